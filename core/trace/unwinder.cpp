#include "core/trace/unwinder.h"

#include <QFile>

#include <elfutils/libdwfl.h>

namespace pipit
{

struct Unwinder::Private {
    pid_t pid;
    Dwfl *dwfl = nullptr;
    QByteArray maps; // as they were when the modules were looked at

    // Of the stack that is being unwound.
    const std::array<std::uint64_t, 17> *registers = nullptr;
    const Read *read = nullptr;
    std::vector<StackFrame> found;

    void lookAtModules();
};

namespace
{

char *unwoundFrom = nullptr;
const Dwfl_Callbacks moduleCallbacks = {dwfl_linux_proc_find_elf, dwfl_standard_find_debuginfo, nullptr,
                                        &unwoundFrom};

} // namespace

Unwinder::Unwinder(pid_t pid) : d(std::make_unique<Private>())
{
    d->pid = pid;
}

Unwinder::~Unwinder()
{
    if (d->dwfl)
        dwfl_end(d->dwfl);
}

// One thread at a time stands for the process: that whose stack is asked about.
static pid_t nextThread(Dwfl *, void *arg, void **thread)
{
    if (*thread)
        return 0;
    *thread = arg;
    return 1;
}

void Unwinder::Private::lookAtModules()
{
    QFile file(QStringLiteral("/proc/%1/maps").arg(pid));
    const QByteArray now = file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    // Only files count; the heap grows all the time.
    QByteArray files;
    for (const QByteArray &line : now.split('\n'))
        if (line.contains("r-xp") && line.contains('/'))
            files += line + '\n';
    if (dwfl && (files == maps || files.isEmpty()))
        return;
    maps = files;
    if (dwfl)
        dwfl_end(dwfl);
    dwfl = dwfl_begin(&moduleCallbacks);
    if (!dwfl)
        return;
    static const Dwfl_Thread_Callbacks threadCallbacks = {
        nextThread,
        nullptr,
        [](Dwfl *, Dwarf_Addr address, Dwarf_Word *word, void *arg) {
            return (*static_cast<Private *>(arg)->read)(address, word);
        },
        [](Dwfl_Thread *thread, void *arg) {
            const auto &r = *static_cast<Private *>(arg)->registers;
            dwfl_thread_state_register_pc(thread, r[16]);
            return dwfl_thread_state_registers(thread, 0, 17, r.data());
        },
        nullptr,
        nullptr};
    dwfl_report_begin(dwfl);
    dwfl_linux_proc_report(dwfl, pid);
    dwfl_report_end(dwfl, nullptr, nullptr);
    if (!dwfl_attach_state(dwfl, nullptr, pid, &threadCallbacks, this)) {
        dwfl_end(dwfl);
        dwfl = nullptr;
    }
}

static int onFrame(Dwfl_Frame *frame, void *arg)
{
    auto &found = *static_cast<std::vector<StackFrame> *>(arg);
    Dwarf_Addr pc = 0;
    bool exact = false;
    if (!dwfl_frame_pc(frame, &pc, &exact) || found.size() >= Unwinder::mostFrames)
        return DWARF_CB_ABORT;
    StackFrame f;
    f.exact = exact;
    f.offset = pc;
    Dwfl_Module *module = dwfl_addrmodule(dwfl_thread_dwfl(dwfl_frame_thread(frame)), exact ? pc : pc - 1);
    const char *file = nullptr;
    GElf_Addr bias = 0;
    if (module && dwfl_module_getelf(module, &bias)) {
        dwfl_module_info(module, nullptr, nullptr, nullptr, nullptr, nullptr, &file, nullptr);
        f.module = QString::fromUtf8(file ? file : "");
        f.offset = pc - bias;
    }
    found.push_back(std::move(f));
    return DWARF_CB_OK;
}

std::vector<StackFrame> Unwinder::frames(const std::array<std::uint64_t, 17> &registers, const Read &read)
{
    d->lookAtModules();
    std::vector<StackFrame> found;
    if (!d->dwfl)
        return found;
    d->registers = &registers;
    d->read = &read;
    dwfl_getthreads(
        d->dwfl,
        [](Dwfl_Thread *thread, void *arg) {
            dwfl_thread_getframes(thread, onFrame, arg);
            return int(DWARF_CB_OK);
        },
        &found);
    return found;
}

} // namespace pipit
