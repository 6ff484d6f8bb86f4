#include "core/edits/workspace.h"

#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/edits/history.h"
#include "core/edits/where.h"
#include "core/project/condition.h"

#include <QFileInfo>
#include <QRegularExpression>

namespace pipit
{

// Of larger projects the steps are kept while they are open only: writing them would be felt.
static constexpr qsizetype largestHistory = 100'000;

Result<Workspace> Workspace::open(const QString &path)
{
    auto place = findProject(path);
    if (!place)
        return place.problem();
    auto bytes = readFile(place->file);
    if (!bytes)
        return bytes.problem();
    auto project = parseProject(*bytes, place->file);
    if (!project)
        return project.problem();
    Workspace w;
    w.place_ = *place;
    w.project_ = *project;
    w.savedBytes_ = *bytes;
    w.files_ = UserFiles(place->folder);
    w.undo_ = loadHistory(*place, w.project_);
    // States below the present one, each another.
    for (qsizetype i = 0; i < w.undo_.size(); ++i) {
        w.undo_[i].stateBefore = int(i - w.undo_.size());
        w.undo_[i].stateAfter = int(i - w.undo_.size()) + 1;
    }
    w.follow();
    return w;
}

// What is known of the user's own files is of now, whatever step of undo the project is from.
void Workspace::take(const Project &project)
{
    const auto own = project_.own;
    project_ = project;
    project_.own = own;
    for (auto it = moved_.cbegin(); it != moved_.cend(); ++it)
        for (Handler &h : project_.handlers)
            if (h.id == it.key())
                h.file = it.value();
}

void Workspace::follow()
{
    moved_.insert(movedHandlers(project_, files_, place_.folder));
    if (!moved_.isEmpty())
        take(Project(project_));
}

Result<Workspace> Workspace::create(const QString &folder)
{
    auto place = newProject(folder);
    if (!place)
        return place.problem();
    auto w = open(place->file);
    if (!w)
        return w;
    for (const GeneratedFile &f : userTemplates(w->project_))
        if (auto ok = writeFile(place->folder + '/' + f.name, f.bytes); !ok)
            return ok.problem();
    if (auto ok = w->generate(); !ok)
        return ok.problem();
    return w;
}

Outcome Workspace::apply(Edit edit)
{
    if (edit.madeFrom && *edit.madeFrom != stamp())
        return Problem{"The project or its code has changed since this was planned", {}, "Plan it again"};
    edit.madeFrom.reset();
    QList<FileEdit> done;
    for (FileEdit &f : edit.files) {
        if (auto ok = files_.apply(f); !ok) {
            for (auto it = done.crbegin(); it != done.crend(); ++it)
                (void)bool(files_.revert(*it));
            return ok;
        }
        done << f;
    }
    edit.before = project_;
    edit.stateBefore = state_;
    edit.stateAfter = state_ = ++lastState_;
    take(edit.after);
    undo_.append(std::move(edit));
    redo_.clear();
    return Done{};
}

namespace
{

StepTaken::Left leftBy(const FileEdit &edit, const Result<UserFiles::Revert> &done)
{
    if (!done)
        return {edit.file, edit.removed, done.problem().what};
    if (*done == UserFiles::Revert::StaysOut)
        return {edit.file, edit.removed,
                "the code around this text was edited in the meantime, so the text was not restored"};
    return {edit.file, edit.removed,
            edit.removed.isEmpty() ? "the text that Pipit inserted was edited in the meantime, so it stays"
                                   : "the text in its place was edited in the meantime, so that text stays "
                                     "and this text was not restored"};
}

} // namespace

Result<StepTaken> Workspace::undo()
{
    if (undo_.isEmpty())
        return Problem{"There is nothing to undo", {}, {}};
    Edit e = undo_.takeLast();
    StepTaken taken{e.text, {}};
    for (auto it = e.files.rbegin(); it != e.files.rend(); ++it) {
        const auto done = files_.revert(*it);
        if (done && *done == UserFiles::Revert::Done)
            continue;
        it->stands = true;
        taken.left.append(leftBy(*it, done));
    }
    take(e.before);
    state_ = e.stateBefore;
    redo_.append(std::move(e));
    return taken;
}

Result<StepTaken> Workspace::redo()
{
    if (redo_.isEmpty())
        return Problem{"There is nothing to redo", {}, {}};
    Edit e = redo_.takeLast();
    StepTaken taken{e.text, {}};
    for (FileEdit &f : e.files)
        if (const auto ok = files_.apply(f); !ok)
            taken.left.append({f.file, f.inserted, ok.problem().what});
    take(e.after);
    state_ = e.stateAfter;
    undo_.append(std::move(e));
    return taken;
}

Outcome Workspace::disconnect(const QString &id)
{
    const Connection *c = project_.connection(id);
    if (!c)
        return Problem{QStringLiteral("There is no connection '%1'").arg(id.left(60)),
                       {},
                       "See 'pipit show' for the ids"};
    Edit e{"disconnect " + c->subject() + " · " + c->what(), {}, project_, {}};
    e.after.connections.removeIf([&](const Connection &each) { return each.id == id; });
    return apply(std::move(e));
}

// One connection changed in place.
Outcome Workspace::change(const QString &id, const QString &text,
                          const std::function<Outcome(Connection &)> &how)
{
    Edit e{text, {}, project_, {}};
    Connection *c = e.after.connection(id);
    if (!c)
        return Problem{QStringLiteral("There is no connection '%1'").arg(id.left(60)),
                       {},
                       "See 'pipit show' for the ids"};
    if (auto ok = how(*c); !ok)
        return ok;
    return apply(std::move(e));
}

Outcome Workspace::setPacing(const QString &id, const Pacing &pacing)
{
    return change(id, "change the pacing of " + id, [&](Connection &c) -> Outcome {
        if (c.sourceKind == Connection::Source::Event && pacing.kind != PacingKind::AtOnce)
            return Problem{"Only signals have a pacing", {}, "Leave out the pacing for an event"};
        c.pacing = pacing;
        return Done{};
    });
}

Outcome Workspace::setEnabled(const QString &id, bool enabled)
{
    return change(id, (enabled ? "enable " : "disable ") + id, [&](Connection &c) -> Outcome {
        c.enabled = enabled;
        return Done{};
    });
}

Outcome Workspace::setCondition(const QString &id, const QString &when)
{
    return change(id, "change the condition of " + id, [&](Connection &c) -> Outcome {
        const EventEntry *e = Catalog::get().event(c.event);
        auto condition = parseCondition(when, e ? e->cppClass : QString());
        if (!condition)
            return Problem{
                "For " + c.what() + ' ' + condition.problem().what, {}, condition.problem().remedy};
        c.when = conditionText(*condition);
        return Done{};
    });
}

Outcome Workspace::retarget(const QString &id, const QString &handler)
{
    return change(id, "connect " + id + " to " + handler, [&](Connection &c) -> Outcome {
        if (!project_.handler(handler))
            return Problem{QStringLiteral("There is no handler '%1'").arg(handler.left(60)), {}, {}};
        c.targetKind = Connection::Target::Handler;
        c.to = handler;
        c.toMember.clear();
        return Done{};
    });
}

Outcome Workspace::moveConnection(const QString &id, const QString &before)
{
    Edit e{"move " + id, {}, project_, {}};
    auto &list = e.after.connections;
    const auto indexOf = [&](const QString &wanted) {
        return std::find_if(list.begin(), list.end(), [&](const Connection &c) { return c.id == wanted; }) -
               list.begin();
    };
    const qsizetype from = indexOf(id), to = before.isEmpty() ? list.size() : indexOf(before);
    if (from == list.size() || (!before.isEmpty() && to == list.size()))
        return Problem{QStringLiteral("There is no connection '%1'").arg(from == list.size() ? id : before),
                       {},
                       "See 'pipit show' for the ids"};
    const Connection c = list.takeAt(from);
    list.insert(to > from ? to - 1 : to, c);
    return apply(std::move(e));
}

bool Workspace::dirty() const
{
    return state_ != savedState_ || !files_.dirtyFiles().isEmpty();
}

Outcome Workspace::save()
{
    const SaveWork work = saveWork();
    if (auto ok = saved(work, saveProject(work.project, work.file, work.knownBytes)); !ok)
        return ok;
    if (const auto keep = historyWork())
        keep(); // a convenience: nothing is lost without it
    return Done{};
}

std::function<void()> Workspace::historyWork() const
{
    if (state_ != savedState_ || savedBytes_.size() >= largestHistory)
        return {};
    return [place = place_, steps = undo_, now = project_] { (void)bool(keepHistory(place, steps, now)); };
}

Outcome Workspace::saved(const SaveWork &work, const Result<QByteArray> &written)
{
    if (!written)
        return written.problem();
    savedBytes_ = *written;
    savedState_ = work.state;
    if (auto ok = files_.saveAll(); !ok)
        return ok;
    follow();
    return Done{};
}

Outcome Workspace::generate()
{
    auto g = pipit::generate(project_, place_, files_);
    if (!g)
        return g.problem();
    return writeGenerated(*g, place_);
}

bool Workspace::projectChangedOnDisk() const
{
    auto now = readFile(place_.file);
    return now ? *now != savedBytes_ : projectIsGone() && savedState_ >= 0;
}

bool Workspace::projectIsGone() const
{
    return !QFileInfo::exists(place_.file);
}

UserFiles::Refreshed Workspace::refresh()
{
    UserFiles::Refreshed done = files_.refresh();
    if (!done.changed.isEmpty())
        follow();
    if (projectChangedOnDisk())
        done.changed.prepend(QFileInfo(place_.file).fileName());
    if (projectIsGone())
        savedState_ = -1; // so what is here is unsaved
    return done;
}

namespace
{

// Both sides count ids: the number is no clash.
QByteArray withNextId(QByteArray bytes, int id)
{
    static const QRegularExpression line("\\n  \"next_id\": \\d+,");
    return QString::fromUtf8(bytes).replace(line, QStringLiteral("\n  \"next_id\": %1,").arg(id)).toUtf8();
}

} // namespace

Result<bool> Workspace::reloadProject()
{
    auto again = open(place_.file);
    if (!again)
        return again.problem();
    if (projectBytes(again->project_) == projectBytes(project_)) {
        savedBytes_ = again->savedBytes_;
        savedState_ = state_;
        return false;
    }
    Project taken = again->project_;
    bool merged = false;
    if (state_ != savedState_) {
        const int id = std::max(project_.nextId, taken.nextId);
        const Merge both = merge(QString::fromUtf8(withNextId(savedBytes_, id)),
                                 QString::fromUtf8(withNextId(projectBytes(project_), id)),
                                 QString::fromUtf8(withNextId(again->savedBytes_, id)));
        if (auto one = parseProject(both.text().toUtf8(), place_.file); both.clean() && one) {
            taken = *one;
            merged = true;
        }
    }
    Edit e{merged ? "merge the changes on disk" : "load the project again", project_, taken, {}};
    savedBytes_ = again->savedBytes_;
    e.stateBefore = state_;
    e.stateAfter = state_ = ++lastState_;
    if (!merged)
        savedState_ = state_;
    undo_.append(e);
    redo_.clear();
    take(taken);
    follow();
    return merged;
}

Outcome Workspace::keepOwnProject()
{
    auto now = readFile(place_.file);
    if (!now)
        return now.problem();
    savedBytes_ = *now;
    savedState_ = -1;
    return Done{};
}

Outcome Workspace::recover(const UnsavedWork &work)
{
    auto project = parseProject(work.project, place_.file);
    if (!project)
        return project.problem();
    Edit e{"restore unsaved work", {}, *project, {}};
    for (auto it = work.files.begin(); it != work.files.end(); ++it)
        if (auto text = files_.text(it.key()); text && *text != it.value())
            e.files.append({it.key(), 0, *text, it.value()});
    return apply(std::move(e));
}

} // namespace pipit
