#include "tests/support/causes.h"

#include "core/trace/queries.h"
#include "tests/support/support.h"

#include <QHash>
#include <QRegularExpression>
#include <QSet>

namespace pipit::tests
{

namespace
{

using Edges = QSet<QString>; // "painted:12"

// What is said in the trace of the acts and their causes.
class Said
{
public:
    explicit Said(const TraceModel &trace) : trace_(trace)
    {
        for (std::uint16_t t = 0; t < trace.threadCount(); ++t)
            for (std::uint32_t row = 0; row < trace.rows(t).count(); ++row)
                if (trace.rows(t).kind(row) == SpanKind::Message)
                    take(trace.rows(t).at(row));
    }
    QHash<int, Edges> truth, found;         // by act
    QList<std::pair<QString, Edges>> loops; // what ended each, as printed and as found

private:
    void take(const Span &message)
    {
        static const QRegularExpression form("^(act|after) (\\d+ )?(.*)$");
        const auto m = form.match(trace_.message(message.what));
        if (!m.hasMatch())
            return;
        if (m.captured(1) == "after") {
            ends_ << std::pair(m.captured(3), message.id);
            return;
        }
        const int id = m.captured(2).toInt();
        for (const QString &edge : m.captured(3).split(',', Qt::SkipEmptyParts))
            truth[id].insert(edge);
        truth[id]; // even if it has none
        if (message.parent)
            actOf_.insert(message.parent.number(), id);
        messages_.insert(id, message.id);
    }

    // The act that a span is of: its own, or that of what it lies in within its turn.
    int actAround(SpanId id) const
    {
        for (; id && trace_.span(id).kind != SpanKind::Turn; id = trace_.span(id).parent)
            if (const auto it = actOf_.find(id.number()); it != actOf_.end())
                return *it;
        return 0;
    }

public:
    void look()
    {
        for (auto it = messages_.cbegin(); it != messages_.cend(); ++it) {
            const SpanId around = trace_.span(it.value()).parent;
            for (const Cause &c : around ? causesAround(trace_, around) : std::vector<Cause>())
                if (const int of = c.span ? actAround(c.span) : 0)
                    found[it.key()].insert(causeWord(c.kind) + ':' + QString::number(of));
        }
        for (const auto &[printed, message] : ends_)
            loops.append({printed, endsBefore(message)});
    }

private:
    Edges endsBefore(SpanId message) const
    {
        const ThreadRows &rows = trace_.rows(message.thread());
        const SpanId parent = rows.parent(message.row());
        for (std::uint32_t row = message.row(); row-- > parent.row();)
            if (rows.kind(row) == SpanKind::Loop && rows.parent(row) == parent) {
                Edges all;
                for (const Cause &c : rows.causes(row))
                    if (const int of = c.span ? actAround(c.span) : 0)
                        all.insert(causeWord(c.kind) + ':' + QString::number(of));
                return all;
            }
        return {};
    }

    const TraceModel &trace_;
    QHash<std::uint64_t, int> actOf_; // by the span that its message lies in
    QHash<int, SpanId> messages_;
    QList<std::pair<QString, SpanId>> ends_;
};

} // namespace

void CausesVerdict::add(const CausesVerdict &o)
{
    acts += o.acts;
    edges += o.edges;
    right += o.right;
    missing += o.missing;
    falseOnes += o.falseOnes;
    wrong += o.wrong;
}

QString CausesVerdict::text() const
{
    return QStringLiteral("%1 acts, %2 edges: %3 right, %4 missing; %5 false")
        .arg(acts)
        .arg(edges)
        .arg(right)
        .arg(missing)
        .arg(falseOnes);
}

CausesVerdict judgeCauses(unsigned seed, int count)
{
    const Whole w = runTarget("causes", {QString::number(seed), QString::number(count)});
    CausesVerdict v;
    if (!w.info) {
        v.wrong << QStringLiteral("seed %1: it did not run").arg(seed);
        v.missing = 1;
        return v;
    }
    Said said(w.run->trace());
    said.look();
    const auto compare = [&](const QString &what, const Edges &truth, const Edges &found) {
        v.edges += int(truth.size());
        for (const QString &edge : truth) {
            const bool right = found.contains(edge);
            v.right += right;
            v.missing += !right;
            if (!right)
                v.wrong << QStringLiteral("seed %1, %2: %3 is missing").arg(seed).arg(what, edge);
        }
        for (const QString &edge : found)
            if (!truth.contains(edge)) {
                ++v.falseOnes;
                v.wrong << QStringLiteral("seed %1, %2: %3 is false (%4)")
                               .arg(seed)
                               .arg(what, edge, QStringList(truth.values()).join(' '));
            }
    };
    v.acts = int(said.truth.size());
    for (auto it = said.truth.cbegin(); it != said.truth.cend(); ++it)
        compare(QStringLiteral("act %1").arg(it.key()), it.value(), said.found.value(it.key()));
    for (const auto &[printed, found] : said.loops)
        compare("the end of a loop", {printed}, found);
    return v;
}

} // namespace pipit::tests
