#include "core/userfiles/user_files.h"

#include "core/base/files.h"

#include <QFileInfo>

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
        (*b)->text = text;
}

bool UserFiles::dirty(const QString &file) const
{
    const auto it = buffers_.constFind(file);
    return it != buffers_.constEnd() && it->text.toUtf8() != it->onDisk;
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

Outcome UserFiles::apply(const FileEdit &edit)
{
    auto b = buffer(edit.file);
    if (!b)
        return b.problem();
    QString &t = (*b)->text;
    if (edit.offset > t.size() || t.mid(edit.offset, edit.removed.size()) != edit.removed) {
        // Something above it changed: the text is looked for where it stands now.
        const qsizetype at = edit.removed.isEmpty() ? t.size() : t.indexOf(edit.removed);
        if (at < 0)
            return Problem{"The text that would be replaced was edited since", path(edit.file),
                           "Nothing was changed; edit the file by hand"};
        if (!edit.inserted.isEmpty() && t.contains(edit.inserted))
            return Done{}; // it is there already
        t.replace(at, edit.removed.size(), edit.inserted);
        return Done{};
    }
    if (edit.removed.isEmpty() && t.contains(edit.inserted.trimmed()))
        return Done{};
    t.replace(edit.offset, edit.removed.size(), edit.inserted);
    return Done{};
}

Outcome UserFiles::revert(const FileEdit &edit)
{
    auto b = buffer(edit.file);
    if (!b)
        return b.problem();
    QString &t = (*b)->text;
    qsizetype at = edit.offset;
    if (t.mid(at, edit.inserted.size()) != edit.inserted)
        at = t.indexOf(edit.inserted);
    if (at < 0)
        return Problem{"The text that Pipit added was edited since, so it stays", path(edit.file),
                       "Remove it by hand if it is no longer wanted"};
    t.replace(at, edit.inserted.size(), edit.removed);
    return Done{};
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
        if (*now != (*b)->onDisk)
            return Problem{"The file was changed by someone else since it was read", path(file),
                           "Load it again to see that change; your text is kept in the editor"};
    }
    if (auto ok = writeFile(path(file), bytes); !ok)
        return ok;
    (*b)->onDisk = bytes;
    (*b)->existed = true;
    return Done{};
}

Outcome UserFiles::saveAll()
{
    for (const QString &file : dirtyFiles())
        if (auto ok = save(file); !ok)
            return ok;
    return Done{};
}

QStringList UserFiles::refresh()
{
    QStringList changed;
    for (auto it = buffers_.begin(); it != buffers_.end(); ++it) {
        auto now = readFile(path(it.key()));
        if (!now || *now == it->onDisk)
            continue;
        changed << it.key();
        if (!dirty(it.key())) {
            it->onDisk = *now;
            it->text = QString::fromUtf8(*now);
        }
    }
    return changed;
}

} // namespace pipit
