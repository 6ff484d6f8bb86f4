#include "app/board/wiring_models.h"

#include "core/sentences/sentence.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

#include <algorithm>

namespace pipit::app
{

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

QList<CardRow> cardRows(Session &session, const SentenceModel &sentences)
{
    QList<CardRow> rows;
    const Project &p = session.document.project();
    const QHash<QString, QString> &findings = session.document.findingTexts();
    struct Reached {
        int connections = 0; // shown or not
        double rows = 0;     // the sum of those shown
        int shown = 0;
    };
    QHash<QString, int> numbers;
    for (const Handler &h : p.handlers)
        numbers.insert(h.name, int(numbers.size()));
    std::vector<Reached> reached(std::size_t(numbers.size()) + 1); // the last: none that is known
    std::vector<int> handlerOf(std::size_t(p.connections.size()), int(numbers.size()));
    for (int i = 0; i < p.connections.size(); ++i)
        if (const Connection &c = p.connections.at(i); c.targetKind == Connection::Target::Handler) {
            handlerOf[std::size_t(i)] = numbers.value(c.to, int(numbers.size()));
            ++reached[std::size_t(handlerOf[std::size_t(i)])].connections;
        }
    for (int i = 0; i < sentences.rowCount(); ++i)
        if (const int at = sentences.connectionAt(i); at >= 0) {
            Reached &r = reached[std::size_t(handlerOf[std::size_t(at)])];
            r.rows += i;
            ++r.shown;
        }
    QHash<QString, QHash<QString, int>> lines; // by file and function
    for (const Handler &h : p.handlers)
        if (!lines.contains(h.file))
            if (auto text = session.document.workspace().files().text(h.file)) {
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
            c.pace = paceSentence(h);
            c.finding = findings.value(h.name);
            c.broken = session.document.brokenPlaces().contains(h.name);
            c.place = h.file;
            if (const int line = lines[h.file].value(h.functions().first().name))
                c.place = QStringLiteral("%1:%2").arg(h.file).arg(line);
            const Reached r = reached[std::size_t(numbers.value(h.name))];
            c.connections = r.connections;
            cards.append({r.shown ? r.rows / r.shown : 1e9, c});
        }
        std::stable_sort(cards.begin(), cards.end(),
                         [](const auto &a, const auto &b) { return a.first < b.first; });
        for (const auto &[at, c] : cards)
            rows.append(c);
    }
    return rows;
}

} // namespace

// The sources in the order of the outline, while neither windows nor handlers changed.
void SentenceModel::takeSources(const Project &p)
{
    if (p.windows.constData() == windows_.constData() && p.handlers.constData() == handlers_.constData())
        return;
    windows_ = p.windows;
    handlers_ = p.handlers;
    onThread_.clear();
    for (const WindowNode &w : windows_)
        for (const ObjectNode &o : w.objects)
            if (o.thread)
                onThread_.insert(o.name);
    moved_.clear();
    for (const Handler &h : p.handlers)
        if (h.shape != Shape::OneGo)
            moved_.insert(h.name, h.shape);
    QStringList named = p.objectNames();
    if (named == named_)
        return; // another property, another text
    named_ = std::move(named);
    rank_.clear();
    rank_.reserve(named_.size());
    for (const QString &name : std::as_const(named_))
        rank_.insert(name, int(rank_.size()));
    connections_ = {};
    order_.clear();
}

// Sorted by the source's place in the outline; of one source in the project's order.
void SentenceModel::takeOrder(const Project &p)
{
    takeSources(p);
    if (p.connections.constData() == connections_.constData() && !order_.empty())
        return;
    connections_ = p.connections;
    sources_ = named_;
    QHash<QString, int> others; // selectors, and names that nothing has
    order_.clear();
    order_.reserve(std::size_t(connections_.size()));
    for (int i = 0; i < connections_.size(); ++i) {
        const Connection &c = connections_.at(i);
        const QString &source = c.select.isEmpty() ? c.from : c.select;
        int at = rank_.value(source, -1);
        if (at < 0) {
            auto it = others.constFind(source);
            if (it == others.constEnd()) {
                it = others.insert(source, int(sources_.size()));
                sources_ << source;
            }
            at = *it;
        }
        order_.emplace_back(at, i);
    }
    std::sort(order_.begin(), order_.end());
}

// What the filter looks through; only what reads otherwise than the last time is made anew.
void SentenceModel::takeWords()
{
    if (worded_.constData() == connections_.constData())
        return;
    QStringList words;
    words.reserve(connections_.size());
    for (qsizetype i = 0; i < connections_.size(); ++i)
        words << (i < worded_.size() && readAlike(worded_.at(i), connections_.at(i))
                      ? words_.at(i)
                      : sentenceFor(connections_.at(i)));
    words_ = words;
    worded_ = connections_;
}

void SentenceModel::show(const Session &session, const QString &filter)
{
    beginResetModel();
    places_.clear();
    if (session.document.isOpen()) {
        findings_ = session.document.findingTexts();
        broken_ = session.document.brokenPlaces();
        takeOrder(session.document.project());
        look(filter);
    }
    endResetModel();
}

void SentenceModel::look(const QString &filter)
{
    if (!filter.isEmpty())
        takeWords();
    places_.reserve(order_.size() + 16);
    std::size_t next = 0;
    for (int s = 0; s < sources_.size(); ++s) {
        bool first = true;
        for (; next < order_.size() && order_[next].first == s; ++next)
            if (filter.isEmpty() || words_.at(order_[next].second).contains(filter, Qt::CaseInsensitive))
                places_.push_back({order_[next].second, s, std::exchange(first, false)});
        if (!first || findings_.isEmpty())
            continue;
        const QString lonely = findings_.value(sources_.at(s));
        if (!lonely.isEmpty() && lonely.contains(filter, Qt::CaseInsensitive))
            places_.push_back({-1, s, true});
    }
}

SentenceRow SentenceModel::row(int number) const
{
    const Place &place = places_[std::size_t(number)];
    SentenceRow row;
    row.first = place.first;
    row.source = row.object = sources_.at(place.source);
    if (place.connection < 0) {
        row.finding = row.sentence = findings_.value(row.object);
        row.broken = broken_.contains(row.object);
        row.phrase =
            row.finding.startsWith("Nothing is connected") ? QStringLiteral("no connections") : row.finding;
        return row;
    }
    const Connection &c = connections_.at(place.connection);
    if (!c.part.isEmpty())
        row.source = c.subject();
    row.connection = c.id;
    row.handler = c.targetKind == Connection::Target::Handler ? c.to : QString();
    row.finding = findings_.value(c.id);
    row.broken = broken_.contains(c.id);
    if (row.finding.isEmpty() && row.first) {
        row.finding = findings_.value(row.object); // what is wrong with the source itself
        row.broken = broken_.contains(row.object);
    }
    row.event = c.sourceKind == Connection::Source::Event;
    row.enabled = c.enabled;
    row.shape = c.targetKind == Connection::Target::Slot && onThread_.contains(c.to)
                    ? Shape::Background
                    : moved_.value(row.handler, Shape::OneGo);
    row.phrase = phraseFor(c);
    row.mark = markFor(c);
    row.sentence = sentenceFor(c);
    return row;
}

int SentenceModel::rowOf(const QString &connection) const
{
    for (std::size_t i = 0; i < places_.size(); ++i)
        if (places_[i].connection >= 0 && connections_.at(places_[i].connection).id == connection)
            return int(i);
    return -1;
}

QVariant SentenceModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole && role != Qt::ToolTipRole)
        return {};
    const SentenceRow r = row(index.row());
    if (role == Qt::ToolTipRole && !r.finding.isEmpty())
        return r.finding;
    return r.shape == Shape::OneGo ? r.sentence : r.sentence + ", which runs " + shapeSentence(r.shape);
}

QVariant CardModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= rows_.size())
        return {};
    const CardRow &r = rows_[index.row()];
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return r.kind == CardRow::Band ? r.name
                                       : r.name + ", " + shapeSentence(r.shape) +
                                             (r.pace.isEmpty() ? QString() : ", " + r.pace) + ", " + r.place;
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

void CardModel::show(Session &session, const SentenceModel &sentences)
{
    beginResetModel();
    rows_ = session.document.isOpen() ? cardRows(session, sentences) : QList<CardRow>();
    endResetModel();
}

CallFigures figuresOfHandler(const Session &session, const QString &name)
{
    CallFigures all;
    const Handler *h = session.document.isOpen() ? session.document.project().handler(name) : nullptr;
    if (!h)
        return all;
    for (const HandlerFunction &f : h->functions()) {
        const CallFigures one = session.shown.figures().handlers.value(f.name);
        all.count = std::max(all.count, one.count);
        all.worst = std::max(all.worst, one.worst);
        all.worstOnLoop = std::max(all.worstOnLoop, one.worstOnLoop);
        all.running = all.running || one.running;
        all.lastStart = std::max(all.lastStart, one.lastStart);
    }
    return all;
}

} // namespace pipit::app
