#include "tests/support/lively.h"

#include "core/why/why.h"
#include "tests/support/support.h"

namespace pipit::tests
{

void LivelyVerdict::add(const LivelyVerdict &o)
{
    healthy += o.healthy;
    ok += o.ok;
    unknown += o.unknown;
    falseClaims += o.falseClaims;
    faults += o.faults;
    right += o.right;
    notKnown += o.notKnown;
    wrong += o.wrong;
    mistakes += o.mistakes;
}

QString LivelyVerdict::text() const
{
    return QStringLiteral(
               "%1 healthy: %2 ok, %3 not known, %4 claimed broken. %5 faults: %6 right, %7 not known, %8 "
               "wrong.")
        .arg(healthy)
        .arg(ok)
        .arg(unknown)
        .arg(falseClaims)
        .arg(faults)
        .arg(right)
        .arg(notKnown)
        .arg(wrong);
}

LivelyVerdict judgeLively(unsigned seed, int inputs)
{
    LivelyVerdict v;
    const Whole w = runTarget("lively", {QString::number(seed), QString::number(inputs)});
    if (!w.info) {
        v.mistakes << QStringLiteral("seed %1: it did not run").arg(seed);
        return v;
    }
    for (const QByteArray &line : w.output.split('\n')) {
        const QStringList words = QString::fromUtf8(line).trimmed().split(' ');
        const bool fault = words.value(0) == "FAULT";
        if (!fault && words.value(0) != "DID")
            continue;
        const QString name = words.value(1), wanted = words.mid(3).join(' ');
        const auto a = why(w.run->trace(), w.run->handlers(), {name, words.value(2).toLongLong(), {}, 0});
        const QString verdict = a ? a->verdict : a.problem().text();
        const auto tell = [&] {
            v.mistakes << QStringLiteral("seed %1, %2: '%3' for '%4': %5")
                              .arg(seed)
                              .arg(name, verdict, fault ? wanted : "ok", a ? a->sentence : QString());
        };
        if (fault) {
            ++v.faults;
            if (verdict == wanted)
                ++v.right;
            else if (a && a->station.isEmpty() && verdict != "ok")
                ++v.notKnown;
            else
                ++v.wrong;
            if (verdict != wanted)
                tell();
        } else {
            ++v.healthy;
            if (verdict == "ok")
                ++v.ok;
            else if (a && a->station.isEmpty())
                ++v.unknown;
            else
                ++v.falseClaims;
            if (verdict != "ok")
                tell();
        }
    }
    return v;
}

} // namespace pipit::tests
