// Verbs for handing a recording on: what is in it, and in which other form.
#include "cli/of_recording.h"

#include "core/base/duration_text.h"
#include "core/exports/exports.h"
#include "core/pace/coverage.h"

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonObject>
#include <QSet>

namespace pipit::cli
{

namespace
{

// What is in a recording, before it is given to somebody.
struct Contents {
    qint64 bytes = 0;
    QHash<QString, qint64> spans; // by kind
    QSet<QString> names, captions, modules, sources, files, settings;
    qint64 messages = 0, values = 0; // texts of the program's own
};

Contents contentsOf(Recording &r)
{
    Contents c;
    c.bytes = r.files->bytes();
    static const QHash<SpanKind, QString> words{{SpanKind::Turn, "turns"},
                                                {SpanKind::Dispatch, "dispatches"},
                                                {SpanKind::Signal, "signals"},
                                                {SpanKind::Call, "calls"},
                                                {SpanKind::Message, "messages"}};
    for (std::uint16_t t = 0; t < r.trace.threadCount(); ++t) {
        const ThreadRows &rows = r.trace.rows(t);
        for (std::uint32_t row = 0; row < rows.count(); ++row) {
            const SpanKind kind = rows.kind(row);
            if (const auto it = words.constFind(kind); it != words.constEnd())
                ++c.spans[*it];
            if (kind == SpanKind::Dispatch || kind == SpanKind::Signal) {
                const ObjectInfo o = r.trace.object(rows.at(row).object);
                if (!o.name.isEmpty())
                    c.names.insert(o.name);
                if (!o.caption.isEmpty())
                    c.captions.insert(o.caption);
            }
        }
    }
    c.messages = c.spans.value("messages");
    for (std::uint32_t i = 0; i < r.trace.factCount(); ++i) {
        const FactRow &f = r.trace.fact(i);
        const QString text = r.trace.factText(f);
        if (f.fact == link::Fact::Touched && text.contains('\t') && text.section('\t', 0, 0) == "text")
            ++c.values;
        if (f.fact == link::Fact::State && text.contains("\nsays=") && !text.section("\nsays=", 1).isEmpty())
            c.captions.insert(text.section("\nsays=", 1).section('\n', 0, 0));
        if (f.fact == link::Fact::File)
            c.files.insert(text.section('\t', 2, 2).isEmpty() ? text.section('\t', 1, 1)
                                                              : text.section('\t', 1).replace('\t', ": "));
        const bool isSetting = text.startsWith("setting\t") || text.startsWith("no setting\t");
        if (f.fact == link::Fact::Used && isSetting && !text.endsWith('\t'))
            c.settings.insert(text.section('\t', 1));
    }
    for (std::uint32_t i = 0; i < r.trace.linkCount(); ++i) {
        const LinkRow link = r.trace.link(i);
        if (const QString m = r.trace.code(link.code).module; !m.isEmpty())
            c.modules.insert(m);
        if (const HandlerName &h = r.handlers.of(i); !h.file.isEmpty())
            c.sources.insert(h.file);
    }
    return c;
}

QStringList sorted(const QSet<QString> &set)
{
    QStringList all(set.begin(), set.end());
    all.removeAll(QString());
    all.sort();
    return all;
}

struct What : OfRecording {
    int run() const;
};

int What::run() const
{
    return with(recording, [&](Recording &r) {
        const Contents c = contentsOf(r);
        const QStringList missing = coverageOf(r.trace, r.info, r.recordedTo, r.leftOut).missing;
        QJsonObject spans;
        for (auto it = c.spans.constBegin(); it != c.spans.constEnd(); ++it)
            spans[it.key()] = it.value();
        if (json) {
            printJson(QJsonObject{{"program", orNull(r.info.program)},
                                  {"arguments", QJsonArray::fromStringList(r.info.arguments)},
                                  {"project", orNull(r.info.project)},
                                  {"ending", orNull(r.info.ending)},
                                  {"bytes", c.bytes},
                                  {"duration_ns", qint64(r.trace.now() - r.trace.firstTime())},
                                  {"threads", int(r.trace.threadCount())},
                                  {"lost", qint64(r.trace.lost())},
                                  {"missing", QJsonArray::fromStringList(missing)},
                                  {"spans", spans},
                                  {"names", QJsonArray::fromStringList(sorted(c.names))},
                                  {"captions", QJsonArray::fromStringList(sorted(c.captions))},
                                  {"modules", QJsonArray::fromStringList(sorted(c.modules))},
                                  {"sources", QJsonArray::fromStringList(sorted(c.sources))},
                                  {"files", QJsonArray::fromStringList(sorted(c.files))},
                                  {"settings", QJsonArray::fromStringList(sorted(c.settings))},
                                  {"source_lines", r.sources.lineCount()},
                                  {"texts_set", c.values},
                                  {"messages", c.messages}});
            return fine;
        }
        print("Program    " + (QStringList{r.info.program} + r.info.arguments).join(' '));
        if (!r.info.project.isEmpty())
            print("Project    " + r.info.project);
        print("End        " + (r.info.ending.isEmpty() ? QString("not known") : r.info.ending));
        print(QStringLiteral("Time       %1, %2, %3 KB on disk")
                  .arg(durationText(r.trace.now() - r.trace.firstTime()))
                  .arg(counted(r.trace.threadCount(), "thread", "threads"))
                  .arg(c.bytes / 1024));
        QStringList counts;
        for (const char *k : {"turns", "dispatches", "signals", "calls", "messages"})
            counts << QStringLiteral("%1 %2").arg(c.spans.value(k)).arg(QLatin1String(k));
        print("Holds      " + counts.join(", "));
        for (const QString &each : missing)
            print("Missing    " + each + '.');
        print("\nPossibly private:");
        const auto list = [](const QString &what, const QStringList &all) {
            if (!all.isEmpty())
                print(
                    QStringLiteral("%1 %2: %3%4")
                        .arg(all.size())
                        .arg(what, all.mid(0, 12).join(", "), all.size() > 12 ? QString(", …") : QString()));
        };
        list("object names", sorted(c.names));
        list("captions", sorted(c.captions));
        list("program files", sorted(c.modules));
        list("source files, by name", sorted(c.sources));
        list("files that it opened, renamed or removed", sorted(c.files));
        list("settings that it set or removed", sorted(c.settings));
        if (!r.sources.empty())
            print(QStringLiteral("the full text of %1 source lines, from %2 files")
                      .arg(r.sources.lineCount())
                      .arg(r.sources.files().size()));
        print(QStringLiteral("%1 texts that the program set, %2 messages that it wrote")
                  .arg(c.values)
                  .arg(c.messages));
        print(r.info.project.isEmpty()
                  ? "Typed characters and the contents of fields and documents are not in it."
                  : "Typed characters are not in it. Texts that signals carried are in it, contents of "
                    "fields too.");
        return fine;
    });
}

struct Export {
    QString recording, format, out;

    void takes(Words &words)
    {
        words.word("RECORDING", recording, Words::Needed, "A recording's folder");
        words.oneOf("--to", format, Words::Needed, {"trace-event", "csv", "html"}, "The format");
        words.word("--out", out, Words::Needed, "The file to write");
    }
    int run() const
    {
        return with(recording, [&](Recording &r) {
            if (auto ok = exportTo(r, format, out); !ok)
                return fail(ok.problem());
            print(QStringLiteral("%1 (%2 KB)").arg(out).arg(QFileInfo(out).size() / 1024));
            return fine;
        });
    }
};

struct Pack {
    QString recording, out;
    bool noSources = false;

    void takes(Words &words)
    {
        words.word("RECORDING", recording, Words::Needed, "A recording's folder");
        words.word("FILE", out, Words::Needed, "The file to write");
        words.flag("--no-sources", noSources, "Leave out the source lines");
    }
    int run() const
    {
        if (QFileInfo::exists(out))
            return fail({"The file exists already, and pack overwrites nothing", out, "Name another"});
        return with(recording, [&](Recording &r) {
            const PackedExtras extras = extrasOf(r, !noSources);
            if (auto ok = packRecording(*r.files, extras.files, out); !ok)
                return fail(ok.problem());
            for (const QString &file : extras.leftOut)
                std::fprintf(stderr, "pipit: %s changed since the run began, so its lines are left out\n",
                             qPrintable(file));
            print(QStringLiteral("%1 (%2 KB; %3 of source). Show its contents: pipit what %1")
                      .arg(out)
                      .arg(QFileInfo(out).size() / 1024)
                      .arg(counted(extras.sources.lineCount(), "line", "lines")));
            return fine;
        });
    }
};

} // namespace

void addExportVerbs(Registry &r)
{
    r.add<What>("what", "Show what a recording contains, before you share it", "pipit what /tmp/first");
    r.add<Pack>("pack", "Pack a recording into one file, to share it", "pipit pack /tmp/first first.pack");
    r.add<Export>("export", "Export a recording to another format",
                  "pipit export /tmp/first --to html --out first.html");
}

} // namespace pipit::cli
