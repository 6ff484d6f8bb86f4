#include "app/board/wiring_models.h"

#include "core/project/sentence.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

#include <algorithm>

namespace pipit::app
{

QString SentenceRow::phrase() const
{
    if (!connection.isEmpty())
        return phraseFor(all[at]);
    return finding.startsWith("Nothing is connected") ? QStringLiteral("nothing is connected") : finding;
}

QString SentenceRow::mark() const
{
    return connection.isEmpty() ? QString() : markFor(all[at]);
}

QString SentenceRow::sentence() const
{
    return connection.isEmpty() ? finding : sentenceFor(all[at]);
}

QVariant SentenceModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= rows_.size())
        return {};
    const SentenceRow &r = rows_[index.row()];
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return r.sentence();
    if (role == Qt::ToolTipRole)
        return r.finding.isEmpty() ? r.sentence() : r.finding;
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

// A file is read through once for each of its versions.
const QList<Definition> &knownDefinitions(const QString &file, const QString &text)
{
    static QHash<QString, std::pair<QString, QList<Definition>>> known;
    auto it = known.find(file);
    if (it == known.end() || it->first != text)
        it = known.insert(file, {text, definitionsIn(text)});
    return it->second;
}

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
    QHash<QString, int> rank; // in the order of the outline
    QStringList order = p.objectNames();
    rank.reserve(order.size());
    for (const QString &name : std::as_const(order))
        rank.insert(name, int(rank.size()));
    std::vector<std::pair<int, int>> sorted; // rank and number of each connection
    sorted.reserve(std::size_t(p.connections.size()));
    for (int i = 0; i < p.connections.size(); ++i) {
        const QString source = sourceOf(p.connections[i]);
        auto it = rank.constFind(source);
        if (it == rank.constEnd()) {
            it = rank.insert(source, int(rank.size()));
            order << source;
        }
        sorted.emplace_back(*it, i);
    }
    std::sort(sorted.begin(), sorted.end());
    rows.reserve(p.connections.size() + 16);
    std::size_t next = 0;
    for (int r = 0; r < order.size(); ++r) {
        bool first = true;
        for (; next < sorted.size() && sorted[next].first == r; ++next) {
            const Connection &c = p.connections[sorted[next].second];
            if (!filter.isEmpty() && !sentenceFor(c).contains(filter, Qt::CaseInsensitive))
                continue;
            SentenceRow row;
            row.all = p.connections;
            row.at = sorted[next].second;
            row.source = c.part.isEmpty() ? order[r] : c.subject();
            row.first = std::exchange(first, false);
            row.connection = c.id;
            row.object = order[r];
            row.handler = c.targetKind == Connection::Target::Handler ? c.to : QString();
            row.finding = findings.value(c.id);
            if (row.finding.isEmpty() && row.first)
                row.finding = findings.value(order[r]); // what is wrong with the source itself
            row.event = c.sourceKind == Connection::Source::Event;
            row.enabled = c.enabled;
            rows.append(std::move(row));
        }
        if (!first || findings.isEmpty())
            continue;
        if (const QString lonely = findings.value(order[r]); !lonely.isEmpty()) {
            SentenceRow row;
            row.source = row.object = order[r];
            row.first = true;
            row.finding = lonely;
            if (filter.isEmpty() || lonely.contains(filter, Qt::CaseInsensitive))
                rows.append(std::move(row));
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
    QHash<QString, int> reached; // by how many connections, shown or not
    for (const Connection &c : p.connections)
        if (c.targetKind == Connection::Target::Handler)
            ++reached[c.to];
    QHash<QString, std::pair<double, int>> mean; // handler → sum of rows, count
    for (qsizetype i = 0; i < sentences.size(); ++i) {
        auto &m = mean[sentences[i].handler];
        m.first += double(i);
        ++m.second;
    }
    QHash<QString, QHash<QString, int>> lines; // by file and function
    for (const Handler &h : p.handlers)
        if (!lines.contains(h.file))
            if (auto text = session.workspace().files().text(h.file)) {
                for (const Definition &d : knownDefinitions(h.file, *text))
                    lines[h.file].insert(d.name, d.line);
                lines[h.file]; // also of a file without any
            }
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
            if (const int line = lines[h.file].value(h.functions().first()))
                c.place = QStringLiteral("%1:%2").arg(h.file).arg(line);
            const auto m = mean.value(h.name);
            c.connections = reached.value(h.name);
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
