#include "app/session/background.h"

#include <sys/resource.h>

namespace pipit::app
{

QThreadPool *quietPool()
{
    static QPointer<QThreadPool> pool;
    if (!pool) {
        pool = new QThreadPool(QCoreApplication::instance());
        pool->setMaxThreadCount(1);
    }
    return pool;
}

void lowerThreadPriority()
{
    (void)setpriority(PRIO_PROCESS, 0, 10); // on Linux 0 is the thread
}

} // namespace pipit::app
