#include "core/userfiles/user_files.h"

#include "core/base/files.h"

#include <QFileInfo>

#include <utility>

namespace pipit
{

Result<UserFiles::Buffer *> UserFiles::buffer(const QString &file)
{
    auto it = buffers_.find(file);
    if (it == buffers_.end()) {
        Buffer b;
        if (QFileInfo::exists(path(file))) {
            auto bytes = readFile(path(file));
            if (!bytes)
                return bytes.problem();
            b.onDisk = *bytes;
            b.existed = true;
            b.text = QString::fromUtf8(*bytes);
            if (b.text.toUtf8() != *bytes)
                return Problem{"The file is not UTF-8 text", path(file), "Convert it to UTF-8"};
        }
        it = buffers_.insert(file, b);
    }
    return &*it;
}

Result<QString> UserFiles::text(const QString &file)
{
    auto b = buffer(file);
    if (!b)
        return b.problem();
    return (*b)->text;
}

bool UserFiles::exists(const QString &file) const
{
    return buffers_.contains(file) || QFileInfo::exists(path(file));
}

void UserFiles::setText(const QString &file, const QString &text)
{
    if (auto b = buffer(file); b)
        change(**b, text);
}

void UserFiles::change(Buffer &b, const QString &text)
{
    if (b.text == text)
        return;
    b.text = text;
    ++revision_;
}

bool UserFiles::dirty(const QString &file) const
{
    const auto it = buffers_.constFind(file);
    return it != buffers_.constEnd() && (it->gone || it->text.toUtf8() != it->onDisk);
}

QStringList UserFiles::dirtyFiles() const
{
    QStringList files;
    for (auto it = buffers_.constBegin(); it != buffers_.constEnd(); ++it)
        if (dirty(it.key()))
            files << it.key();
    files.sort();
    return files;
}

namespace
{

bool standsAt(const QString &text, qsizetype at, const QString &what)
{
    return at >= 0 && QStringView(text).mid(at, what.size()) == what;
}

// How much of what stood on both sides of `edit` stands around text of that length there.
qsizetype likeness(const QString &text, qsizetype at, qsizetype length, const FileEdit &edit)
{
    qsizetype before = 0, after = 0;
    while (before < edit.before.size() && before < at &&
           text[at - 1 - before] == edit.before[edit.before.size() - 1 - before])
        ++before;
    while (after < edit.after.size() && at + length + after < text.size() &&
           text[at + length + after] == edit.after[after])
        ++after;
    return before + after;
}

// Where `what` stands: the place most like the one that the edit knows, -1 where it stands nowhere.
qsizetype placeOf(const QString &text, const QString &what, const FileEdit &edit)
{
    qsizetype best = -1, most = -1;
    for (qsizetype at = text.indexOf(what); at >= 0; at = text.indexOf(what, at + 1)) {
        const qsizetype like = likeness(text, at, what.size(), edit);
        const bool nearer = best < 0 || std::abs(at - edit.offset) < std::abs(best - edit.offset);
        if (like > most || (like == most && nearer)) {
            most = like;
            best = at;
        }
    }
    return best;
}

// Where nothing stands between what stood on both sides of the edit; -1 where that is not so any more,
// or in several places.
qsizetype gapOf(const QString &text, const FileEdit &edit)
{
    const auto fits = [&](qsizetype at) {
        return standsAt(text, at - edit.before.size(), edit.before) && standsAt(text, at, edit.after) &&
               (!edit.before.isEmpty() || at == 0) && (!edit.after.isEmpty() || at == text.size());
    };
    if (fits(edit.offset))
        return edit.offset;
    const QString joined = edit.before + edit.after;
    qsizetype found = -1;
    for (qsizetype at = text.indexOf(joined); at >= 0; at = text.indexOf(joined, at + 1)) {
        if (!fits(at + edit.before.size()))
            continue;
        if (found >= 0)
            return -1;
        found = at + edit.before.size();
    }
    return found;
}

// Where the only text like `anchor` stands; -1: nowhere, or in several places.
qsizetype onlyPlaceOf(const QString &text, const QString &anchor)
{
    const qsizetype at = text.indexOf(anchor);
    return at >= 0 && text.indexOf(anchor, at + 1) < 0 ? at : -1;
}

// Whole lines have their place by the line before them, or the one behind, where one of these stands still
// and stands once. -1: neither does.
qsizetype besideNeighbour(const QString &text, const FileEdit &edit)
{
    const bool wholeLines =
        edit.removed.endsWith('\n') && (edit.before.isEmpty() || edit.before.endsWith('\n'));
    if (!wholeLines)
        return -1;
    constexpr qsizetype telling = 8; // characters; a lone brace tells no place
    const auto lineOf = [](const QString &context, bool last) {
        const QStringList lines = context.split('\n', Qt::SkipEmptyParts);
        return lines.isEmpty() ? QString() : last ? lines.last() : lines.first();
    };
    // As much of the context as stands; the whole of it first, then the nearest line.
    for (const QString &anchor : {edit.before, lineOf(edit.before, true) + '\n'})
        if (anchor.trimmed().size() >= telling)
            if (const qsizetype at = onlyPlaceOf(text, anchor); at >= 0)
                return at + anchor.size();
    for (const QString &anchor : {edit.after, '\n' + lineOf(edit.after, false)})
        if (anchor.trimmed().size() >= telling)
            if (const qsizetype at = onlyPlaceOf(text, anchor); at >= 0)
                return at + (anchor == edit.after ? 0 : 1);
    return -1;
}

// Whether text found elsewhere than where it was put is the same piece: long text is, short text needs
// what stood around it.
bool isSamePiece(const QString &text, qsizetype at, const QString &what, const FileEdit &edit)
{
    constexpr qsizetype longText = 40, enough = 12;
    const qsizetype known = edit.before.size() + edit.after.size();
    return at == edit.offset || what.size() >= longText ||
           likeness(text, at, what.size(), edit) >= std::min(known, enough);
}

} // namespace

Outcome UserFiles::apply(FileEdit &edit)
{
    auto b = buffer(edit.file);
    if (!b)
        return b.problem();
    QString t = (*b)->text;
    if (std::exchange(edit.stands, false))
        return Done{};
    edit.made = false;
    qsizetype at = std::min(edit.offset, t.size());
    if (edit.removed.isEmpty()) {
        if (t.contains(edit.inserted.trimmed()))
            return Done{}; // it is there already
    } else if (!standsAt(t, at, edit.removed)) {
        // Something above it changed: the text is looked for where it stands now.
        at = placeOf(t, edit.removed, edit);
        const bool known = !edit.before.isEmpty() || !edit.after.isEmpty();
        if (at < 0 || (known && likeness(t, at, edit.removed.size(), edit) == 0))
            return Problem{"The text to replace was edited in the meantime", path(edit.file),
                           "Nothing was changed; edit the file by hand"};
    }
    t.replace(at, edit.removed.size(), edit.inserted);
    change(**b, t);
    const qsizetype end = at + edit.inserted.size();
    edit.made = true;
    edit.offset = at;
    edit.before = t.mid(std::max<qsizetype>(0, at - FileEdit::context), std::min(at, FileEdit::context));
    edit.after = t.mid(end, FileEdit::context);
    return Done{};
}

Result<UserFiles::Revert> UserFiles::revert(const FileEdit &edit)
{
    if (!edit.made)
        return Revert::Done;
    auto b = buffer(edit.file);
    if (!b)
        return b.problem();
    QString t = (*b)->text;
    const bool onlyOut = edit.inserted.isEmpty();
    qsizetype at = onlyOut ? gapOf(t, edit) : placeOf(t, edit.inserted, edit);
    if (at < 0 && onlyOut)
        at = besideNeighbour(t, edit);
    if (at >= 0 && !onlyOut && !isSamePiece(t, at, edit.inserted, edit))
        at = -1;
    if (at < 0)
        return onlyOut ? Revert::StaysOut : Revert::Stays;
    t.replace(at, edit.inserted.size(), edit.removed);
    change(**b, t);
    return Revert::Done;
}

Outcome UserFiles::save(const QString &file)
{
    auto b = buffer(file);
    if (!b)
        return b.problem();
    const QByteArray bytes = (*b)->text.toUtf8();
    const bool exists = QFileInfo::exists(path(file));
    if (bytes == (*b)->onDisk && exists == (*b)->existed)
        return Done{};
    if (exists) {
        auto now = readFile(path(file));
        if (!now)
            return now.problem();
        // Merged here too: it may have been written a moment ago, before anybody noticed.
        if (*now != (*b)->onDisk) {
            (void)refresh();
            if ((*b)->theirs)
                return Problem{"The file was changed on disk in the same place", path(file),
                               "Choose the text to keep for each place; Pipit has both"};
            return save(file);
        }
    }
    if (auto ok = writeFile(path(file), bytes); !ok)
        return ok;
    (*b)->onDisk = bytes;
    (*b)->existed = true;
    (*b)->gone = false;
    return Done{};
}

Outcome UserFiles::saveAll()
{
    for (const QString &file : dirtyFiles())
        if (auto ok = save(file); !ok)
            return ok;
    return Done{};
}

UserFiles::Refreshed UserFiles::refresh()
{
    Refreshed done;
    for (auto it = buffers_.begin(); it != buffers_.end(); ++it) {
        const bool there = QFileInfo::exists(path(it.key()));
        if (!there && it->existed && !it->gone) {
            it->gone = true;
            done.changed << it.key();
        }
        auto now = there ? readFile(path(it.key())) : Result<QByteArray>(Problem{});
        if (!now)
            continue;
        it->gone = false;
        if (*now == it->theirs.value_or(it->onDisk))
            continue;
        done.changed << it.key();
        const QString theirs = QString::fromUtf8(*now);
        const bool clean = !dirty(it.key());
        const Merge both = clean ? Merge() : merge(QString::fromUtf8(it->onDisk), it->text, theirs);
        if (!both.clean()) {
            it->theirs = *now;
            done.clashing << it.key();
            continue;
        }
        it->theirs.reset();
        it->onDisk = *now;
        if (!clean)
            done.merged << it.key();
        change(*it, clean ? theirs : both.text());
    }
    for (QStringList *list : {&done.changed, &done.merged, &done.clashing})
        list->sort();
    return done;
}

std::optional<Merge> UserFiles::clashOf(const QString &file) const
{
    const auto it = buffers_.constFind(file);
    if (it == buffers_.constEnd() || !it->theirs)
        return std::nullopt;
    return merge(QString::fromUtf8(it->onDisk), it->text, QString::fromUtf8(*it->theirs));
}

QStringList UserFiles::clashing() const
{
    QStringList files;
    for (auto it = buffers_.constBegin(); it != buffers_.constEnd(); ++it)
        if (it->theirs)
            files << it.key();
    files.sort();
    return files;
}

Outcome UserFiles::settle(const QString &file, const QList<bool> &keepMine)
{
    const auto both = clashOf(file);
    if (!both)
        return Problem{"There is no conflict any more", path(file), {}};
    Buffer &b = buffers_[file];
    b.onDisk = *std::exchange(b.theirs, std::nullopt);
    change(b, both->text(keepMine));
    return Done{};
}

bool UserFiles::isGone(const QString &file) const
{
    const auto it = buffers_.constFind(file);
    return it != buffers_.constEnd() && it->gone;
}

} // namespace pipit
