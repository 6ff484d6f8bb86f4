#include "tests/support/typed.h"

#include "core/base/files.h"
#include "core/codegen/generate.h"
#include "core/sentences/sentence.h"
#include "core/userfiles/cpp_scan.h"

namespace pipit::tests
{

QList<TypedLine> typedLines(const QString &file)
{
    auto bytes = readFile(QStringLiteral(PIPIT_SOURCE_DIR "/tests/data/") + file);
    if (!bytes)
        qFatal("%s", qPrintable(bytes.problem().text()));
    QList<TypedLine> lines;
    for (const QString &line : QString::fromUtf8(*bytes).split('\n', Qt::SkipEmptyParts))
        if (!line.startsWith('#'))
            lines.append({line.section(':', 0, 0), line.section(':', 1).trimmed()});
    return lines;
}

Outcome apply(Workspace &w, const TypedLine &line)
{
    if (line.verb == "add") {
        auto request = parseAddLine(line.text);
        if (!request)
            return request.problem();
        auto made = w.add(*request, ".");
        return made ? Outcome(Done{}) : Outcome(made.problem());
    }
    if (line.verb == "set") {
        auto settings = parseSetLine(w.project(), line.text);
        if (!settings)
            return settings.problem();
        for (const SetRequest &s : *settings)
            if (auto done = w.setProperties(s.subject, s.property, s.text); !done)
                return done.problem();
        return Done{};
    }
    if (line.verb == "body") {
        const Handler *h = w.project().handler(line.text.section(':', 0, 0));
        if (!h)
            return Problem{"There is no such handler", {}, {}};
        QString code = *w.files().text(h->file);
        const auto d = definitionOf(code, w.project().windowFor(*h).className, h->name);
        code.replace(d->bodyOpen + 1, d->bodyClose - d->bodyOpen - 1,
                     '\n' + line.text.section(':', 1) + '\n');
        w.files().setText(h->file, code);
        return Done{};
    }
    auto request = parseSentence(line.text);
    if (!request)
        return request.problem();
    auto made = w.connect(*request);
    return made ? Outcome(Done{}) : Outcome(made.problem());
}

Outcome apply(Workspace &w, const QString &line)
{
    return apply(w, {line.section(':', 0, 0), line.section(':', 1).trimmed()});
}

void type(Workspace &w, const QStringList &lines)
{
    for (const QString &line : lines)
        if (auto ok = apply(w, line); !ok)
            qFatal("%s: %s", qPrintable(line), qPrintable(ok.problem().text()));
}

QString made(Workspace &w, const QString &file)
{
    auto g = generate(w.project(), w.place(), w.files());
    if (!g)
        return g.problem().text();
    for (const GeneratedFile &f : g->files)
        if (f.name == "generated/" + file)
            return QString::fromUtf8(f.bytes);
    return {};
}

QString refusal(Workspace &w, const QString &line)
{
    auto ok = apply(w, line);
    return ok ? QString("done") : ok.problem().text();
}

Workspace Fresh::project(const QString &name)
{
    auto w = Workspace::create(QStringLiteral("%1/%2/%3").arg(dir_.path()).arg(++number_).arg(name));
    if (!w)
        qFatal("%s", qPrintable(w.problem().text()));
    return std::move(*w);
}

void fillWithButtons(Project &p, int count, const std::function<QString(int)> &handler)
{
    for (int i = 0; i < count; ++i) {
        WidgetNode button;
        button.id = p.newId("w");
        button.className = "QPushButton";
        button.name = QStringLiteral("key%1").arg(i);
        p.windows.first().root.children.append(button);
        if (!handler)
            continue;
        Connection c;
        c.id = p.newId("c");
        c.from = button.name;
        c.signal = "clicked";
        c.to = handler(i);
        p.connections.append(c);
    }
}

} // namespace pipit::tests
