// The selected row's cause and effects, each as a link.
//
// Threads: the loop's thread only; an account is gathered by a worker.
#pragma once

#include "app/session/session.h"
#include "core/trace/account.h"

#include <QLabel>
#include <QTimer>

#include <optional>
#include <set>

namespace pipit::app
{

// What lights up in the list.
struct Lit {
    std::set<SpanId> causes, effects;
    std::int64_t from = 0, to = 0; // from the first of them to the last; 0: none
};

class AccountPanel : public QWidget
{
    Q_OBJECT
public:
    explicit AccountPanel(Session *session);
    void tellOf(SpanId span);
    void tell(const QString &text); // of nothing that can be asked
    const Lit &lit() const { return lit_; }
    QLabel *label() const { return label_; }
    // From now on how far what is selected is from this moment, and what lies between.
    void measureFrom(std::int64_t time, const QString &what);
    SpanId nearestCause() const { return causes_.empty() ? SpanId() : causes_.front(); }
    SpanId firstEffect() const { return effects_.empty() ? SpanId() : effects_.front(); }

Q_SIGNALS:
    void spanAsked(SpanId span);
    void told();

private:
    void ask();
    struct Told {
        QString html;
        Lit lit;
        std::vector<SpanId> causes, effects;
    };
    static Told account(const TraceModel &trace, Handlers &handlers, SpanId span,
                        const std::optional<std::pair<std::int64_t, QString>> &from);

    Session *session_;
    QLabel *label_;
    Lit lit_;
    std::vector<SpanId> causes_, effects_;
    std::optional<std::pair<std::int64_t, QString>> from_;
    QTimer soon_; // keys that are held down pass over many rows
    SpanId of_;   // whose account is asked for then
    int asked_ = 0;
};

} // namespace pipit::app
