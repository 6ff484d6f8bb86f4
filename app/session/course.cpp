#include "app/session/course.h"

#include "core/base/files.h"
#include "core/base/json.h"

#include <QFileInfo>
#include <QSet>

namespace pipit::app
{

namespace
{

constexpr qint64 mostBytes = 256 << 10;

bool isCondition(const QStringList &words)
{
    static const QHash<QString, qsizetype> known{{"running", 1}, {"stall", 2}, {"moved", 2},
                                                 {"plays", 3},   {"page", 2},  {"next", 1}};
    return known.value(words.value(0)) == words.size() && (words[0] != "plays" || words[1].toInt() > 0);
}

} // namespace

Course::Course(Messages *messages, Document *document, Runs *runs, ShownTrace *shown, QObject *parent)
    : QObject(parent), messages_(messages), document_(document), runs_(runs), shown_(shown)
{
    connect(document_, &Document::opened, this, &Course::open);
    connect(document_, &Document::changed, this, &Course::look);
    connect(runs_, &Runs::stateChanged, this, &Course::look);
    connect(runs_, &Runs::pastChanged, this, &Course::look);
    connect(shown_, &ShownTrace::figuresChanged, this, &Course::look);
}

Result<QList<Course::Step>> Course::read(const QByteArray &bytes, const QString &file, QString *title)
{
    auto json = Json::parse(bytes, file);
    if (!json)
        return json.problem();
    const Json *steps = json->find("steps"), *named = json->find("title");
    QList<Step> all;
    if (!steps || steps->type() != Json::Array)
        return Problem{"The course has no steps", file,
                       R"(Write "steps": [{"say": "…", "until": "running"}])"};
    for (const Json &each : steps->items()) {
        const Json *say = each.find("say"), *until = each.find("until");
        const QStringList words = until ? until->toString().split(' ', Qt::SkipEmptyParts) : QStringList{};
        if (!say || say->toString().isEmpty() || !isCondition(words))
            return Problem{
                "The course has a step that Pipit does not understand", file,
                R"(Write "say" and "until": one of running, stall HANDLER, moved HANDLER, plays N PLAY, page NAME, next)",
                each.line()};
        all.append({say->toString(), words});
    }
    *title = named ? named->toString() : QString();
    return all;
}

void Course::open()
{
    steps_.clear();
    at_ = -1;
    const QString file = document_->workspace().place().folder + "/course.json";
    if (const QFileInfo info(file); info.exists() && info.size() <= mostBytes) {
        auto bytes = readFile(file);
        auto steps = bytes ? read(*bytes, file, &title_) : Result<QList<Step>>(bytes.problem());
        if (steps)
            steps_ = std::move(*steps);
        else
            Q_EMIT messages_->note(steps.problem().text());
    }
    go(steps_.isEmpty() ? -1 : 0);
}

bool Course::happened(const QStringList &until) const
{
    const QString what = until.value(0), whom = until.value(1);
    if (what == "running")
        return runs_->state() == RunState::Running;
    if (what == "page")
        return page_ == whom;
    if (what == "moved") {
        const Handler *h = document_->isOpen() ? document_->project().handler(whom) : nullptr;
        return h && h->shape != Shape::OneGo;
    }
    if (what == "stall") {
        const auto &stalls = shown_->figures().stalls;
        return std::any_of(stalls.begin(), stalls.end(),
                           [&](const Stall &s) { return s.contributors.front().handler.name == whom; });
    }
    if (what == "plays") {
        QSet<int> series;
        for (const PastRun &r : runs_->past())
            if (r.info.play == until.value(2))
                series.insert(r.series);
        return runs_->state() == RunState::Idle && series.size() >= whom.toInt();
    }
    return false;
}

void Course::look()
{
    if (at_ == reread_)
        return;
    int to = at_;
    while (to >= 0 && to < steps_.size() && happened(steps_[to].until))
        ++to;
    if (to != at_)
        go(to);
}

void Course::go(int to)
{
    at_ = to;
    if (to > reread_)
        reread_ = -1;
    Q_EMIT changed();
}

void Course::next()
{
    if (isOn())
        go(at_ + 1);
}

void Course::back()
{
    if (at_ <= 0)
        return;
    reread_ = at_ - 1;
    go(at_ - 1);
}

void Course::leave()
{
    go(-1);
}

void Course::begin()
{
    if (!steps_.isEmpty())
        go(0);
}

void Course::pageShown(const QString &name)
{
    page_ = name;
    look();
}

} // namespace pipit::app
