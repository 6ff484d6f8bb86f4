#include "app/board/wiring_models.h"

#include "core/project/sentence.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

#include <algorithm>

namespace pipit::app
{

QVariant SentenceModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= rows_.size())
        return {};
    const SentenceRow &r = rows_[index.row()];
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return r.sentence;
    if (role == Qt::ToolTipRole)
        return r.finding.isEmpty() ? r.sentence : r.finding;
    return {};
}

QVariant CardModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= rows_.size())
        return {};
    const CardRow &r = rows_[index.row()];
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return r.kind == CardRow::Band ? r.name : r.name + ", " + shapeSentence(r.shape) + ", " + r.place;
    if (role == Qt::ToolTipRole && !r.finding.isEmpty())
        return r.finding;
    return {};
}

Qt::ItemFlags CardModel::flags(const QModelIndex &index) const
{
    if (index.isValid() && rows_[index.row()].kind == CardRow::Band)
        return Qt::ItemIsEnabled;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable;
}

namespace
{

// The first finding of each connection, object and handler, with what mends it.
QHash<QString, QString> findingTexts(const Session &session)
{
    QHash<QString, QString> texts;
    for (const Finding &f : session.findings())
        if (!texts.contains(f.where))
            texts.insert(f.where, f.fix.isEmpty() ? f.message : f.message + ' ' + f.fix);
    return texts;
}

} // namespace

QList<SentenceRow> sentenceRows(Session &session, const QString &filter)
{
    QList<SentenceRow> rows;
    if (!session.hasProject())
        return rows;
    const Project &p = session.project();
    const QHash<QString, QString> findings = findingTexts(session);
    const auto sourceOf = [](const Connection &c) { return c.select.isEmpty() ? c.from : c.select; };
    QHash<QString, QList<const Connection *>> bySource;
    for (const Connection &c : p.connections)
        bySource[sourceOf(c)].append(&c);
    QStringList order = p.objectNames();
    QSet<QString> known(order.begin(), order.end());
    for (const Connection &c : p.connections)
        if (const QString source = sourceOf(c); !known.contains(source)) {
            known.insert(source);
            order << source;
        }
    for (const QString &object : order) {
        bool first = true;
        for (const Connection *c : bySource.value(object)) {
            SentenceRow r;
            r.sentence = sentenceFor(*c);
            if (!filter.isEmpty() && !r.sentence.contains(filter, Qt::CaseInsensitive))
                continue;
            r.source = c->subject();
            r.first = std::exchange(first, false);
            r.phrase = phraseFor(*c);
            r.mark = markFor(*c);
            r.connection = c->id;
            r.object = object;
            r.handler = c->targetKind == Connection::Target::Handler ? c->to : QString();
            r.finding = findings.value(c->id);
            r.event = c->sourceKind == Connection::Source::Event;
            r.enabled = c->enabled;
            rows.append(r);
        }
        if (const QString lonely = findings.value(object); first && !lonely.isEmpty()) {
            SentenceRow r;
            r.source = r.object = object;
            r.first = true;
            r.phrase = lonely.startsWith("Nothing is connected") ? QString("nothing is connected") : lonely;
            r.finding = r.sentence = lonely;
            if (filter.isEmpty() || lonely.contains(filter, Qt::CaseInsensitive))
                rows.append(r);
        }
    }
    return rows;
}

QList<CardRow> cardRows(Session &session, const QList<SentenceRow> &sentences)
{
    QList<CardRow> rows;
    if (!session.hasProject())
        return rows;
    const Project &p = session.project();
    const QHash<QString, QString> findings = findingTexts(session);
    QHash<QString, std::pair<double, int>> mean; // handler → sum of rows, count
    for (qsizetype i = 0; i < sentences.size(); ++i) {
        auto &m = mean[sentences[i].handler];
        m.first += double(i);
        ++m.second;
    }
    QHash<QString, QList<Definition>> definitions;
    for (const Handler &h : p.handlers)
        if (!definitions.contains(h.file))
            if (auto text = session.workspace().files().text(h.file))
                definitions.insert(h.file, definitionsIn(*text));
    const struct {
        Shape shape;
        bool timer;
        const char *heading;
    } bands[] = {{Shape::OneGo, false, "on the loop, in one go"},
                 {Shape::Steps, true, "on a timer, in steps"},
                 {Shape::Background, false, "in the background, on a thread"}};
    for (const auto &band : bands) {
        CardRow heading;
        heading.kind = CardRow::Band;
        heading.shape = band.shape;
        heading.timerBand = band.timer;
        heading.name = QString::fromLatin1(band.heading);
        rows.append(heading);
        QList<std::pair<double, CardRow>> cards;
        for (const Handler &h : p.handlers) {
            if (h.shape != band.shape)
                continue;
            CardRow c;
            c.shape = h.shape;
            c.name = h.name;
            c.finding = findings.value(h.name);
            c.place = h.file;
            for (const Definition &d : definitions.value(h.file))
                if (h.functions().contains(d.name)) {
                    c.place = QStringLiteral("%1:%2").arg(h.file).arg(d.line);
                    break;
                }
            const auto m = mean.value(h.name);
            c.connections = m.second;
            cards.append({m.second ? m.first / m.second : 1e9, c});
        }
        std::stable_sort(cards.begin(), cards.end(),
                         [](const auto &a, const auto &b) { return a.first < b.first; });
        for (const auto &[at, c] : cards)
            rows.append(c);
    }
    return rows;
}

CallFigures figuresOfHandler(const Session &session, const QString &name)
{
    CallFigures all;
    const Handler *h = session.hasProject() ? session.project().handler(name) : nullptr;
    if (!h)
        return all;
    for (const QString &f : h->functions()) {
        const CallFigures one = session.figures().handlers.value(f);
        all.count = std::max(all.count, one.count);
        all.worst = std::max(all.worst, one.worst);
        all.running = all.running || one.running;
        all.lastStart = std::max(all.lastStart, one.lastStart);
    }
    return all;
}

} // namespace pipit::app
