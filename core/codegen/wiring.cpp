#include "core/codegen/wiring.h"

#include "core/codegen/window_code.h"
#include "core/codegen/wiring_writer.h"
#include "core/sentences/sentence.h"

namespace pipit
{

WiringWriter::WiringWriter(const Reach &reach, int window, const ProjectPlace &place,
                           const QSet<QString> &overloaded)
    : reach_(reach), p_(reach.project()), w_(p_.windows[window]), index_(window), file_(place.file),
      user_(w_.className.toUtf8()), wired_(user_ + "Wired"), overloaded_(overloaded), locals_(localNames(p_))
{
    for (const Handler &h : p_.handlers)
        if (h.shape == Shape::Background && p_.windowOfHandler(h) == window)
            background_ << &h;
        else if (h.shape == Shape::Steps && p_.windowOfHandler(h) == window)
            steps_ << &h;
    source_ = locals_.of("source");
    event_ = locals_.of("event");
    watched_ = locals_.of("watched");
    handled_ = locals_.of("handled");
}

Problem WiringWriter::at(const Connection &c, const QString &what, const QString &remedy) const
{
    return {QStringLiteral("Connection %1 (%2 · %3): %4").arg(c.id, c.subject(), c.what(), what), file_,
            remedy, c.kept.line};
}

namespace
{

// Where a long condition is broken: after the last "&&" that still fits, outside texts.
qsizetype breakOf(const QByteArray &text, qsizetype room)
{
    qsizetype at = -1;
    bool quoted = false;
    for (qsizetype i = 0; i < text.size() && (i < room || at < 0); ++i) {
        if (text[i] == '"' && (i == 0 || text[i - 1] != '\\'))
            quoted = !quoted;
        if (!quoted && text.mid(i, 4) == " && ")
            at = i + 3;
    }
    return at;
}

} // namespace

void WiringWriter::line(const QByteArray &text)
{
    const qsizetype room = widest - 4 * depth_;
    if (text.size() > room && !text.startsWith("//"))
        if (const qsizetype at = breakOf(text, room); at > 0) {
            line(text.left(at));
            ++depth_;
            line(text.mid(at + 1));
            --depth_;
            return;
        }
    out_ += text.isEmpty() ? QByteArray("\n") : QByteArray(4 * depth_, ' ') + text + '\n';
    lineNumber_ += 1 + int(text.count('\n'));
}

void WiringWriter::open(const QByteArray &text)
{
    line(text);
    ++depth_;
}

void WiringWriter::close(const QByteArray &text)
{
    --depth_;
    line(text);
}

void WiringWriter::note(int first, const Group &g, const QString &name, bool helper)
{
    const Handler *h = g.c->targetKind == Connection::Target::Handler ? reach_.handler(g.c->to) : nullptr;
    lines_.append({first, lineNumber_ - 1, g.c->id, h ? h->id : QString(), name,
                   g.isMany() || g.sources.isEmpty() ? QString() : g.first(), g.c->what(), helper});
}

void WiringWriter::sentence(const Connection &c)
{
    line("// " + commentText(sentenceFor(c)));
}

QByteArray WiringWriter::unique(const QByteArray &wanted)
{
    QByteArray name = locals_.of(wanted);
    for (int n = 2; used_.contains(name); ++n)
        name = locals_.of(wanted + QByteArray::number(n));
    used_.insert(name);
    return name;
}

void WiringWriter::openLoop(const Group &g, const QString &part)
{
    if (!g.isMany())
        return;
    QByteArrayList all;
    for (const QString &s : g.sources)
        all << reach_.code(s, part, index_);
    const QByteArray list =
        all.contains("this") ? "std::initializer_list<" + g.type + " *>{" : QByteArray("{");
    open("for (" + g.type + " *" + source_ + " : " + list + all.join(", ") + "}) {");
}

void WiringWriter::closeLoop(const Group &g)
{
    if (g.isMany())
        close("}");
}

QByteArray WiringWriter::sourceCode(const Group &g, const QString &part) const
{
    return g.isMany() ? source_ : reach_.code(g.first(), part, index_);
}

// Which connections stand in this window's wiring; those switched off stand in none.
Outcome WiringWriter::collect()
{
    for (const Connection &c : p_.connections) {
        auto sources = reach_.sources(c);
        if (!sources)
            return at(c, sources.problem());
        QList<Group> &into = c.sourceKind == Connection::Source::Signal ? signals_ : events_;
        const qsizetype before = into.size();
        for (const QString &s : *sources) {
            if (!reach_.find(s)) {
                const QString near = nearestName(s, reach_.names());
                return at(c, QStringLiteral("there is no widget or timer '%1'").arg(s),
                          near.isEmpty() ? "Name one of the window's widgets" : "Nearest: " + near);
            }
            if (!Reach::hasPart(reach_.classOf(s), c.part))
                return at(c, QStringLiteral("%1 has no part '%2'").arg(s, c.part),
                          "Use viewport for scrolling views, selection for lists, a button for a button box");
            const int home = reach_.home(c, s);
            if (home < 0)
                return at(c, QStringLiteral("%1 belongs to another window than %2").arg(c.to, s),
                          "Connect it to a handler of its own window, or of the first");
            if (home != index_ || !c.enabled)
                continue;
            const QByteArray type = reach_.typeOf(s, c.part == "viewport" ? QString() : c.part);
            if (into.size() > before && into.last().type == type)
                into.last().sources << s;
            else
                into.append({&c, type, {s}});
            scoped_ = scoped_ || c.scope != Connection::Scope::Widget;
            after_ = after_ || c.after;
        }
    }
    return Done{};
}

QByteArray WiringWriter::header() const
{
    const bool threads =
        std::any_of(w_.objects.begin(), w_.objects.end(), [](const ObjectNode &o) { return o.thread; });
    const auto waits = [](const Handler *h) {
        return h->again != "ignore" && !h->isTogether() && (!h->isQueued() || waitsForItsTurn(*h));
    };
    const bool queues = std::any_of(background_.begin(), background_.end(), waits) ||
                        std::any_of(steps_.begin(), steps_.end(), waits);
    QByteArray text = "// Made by Pipit; edits here are overwritten.\n#pragma once\n\n#include \"" +
                      w_.file.toUtf8() + ".h\"\n" + (threads ? "\n#include <QtCore/QThread>\n" : "") +
                      (queues ? "\n#include <QtCore/QQueue>\n\n#include <tuple>\n" : "") +
                      "\n// The window with everything connected.\nclass " + wired_ + " final : public " +
                      user_ + "\n{\npublic:\n    explicit " + wired_ + "(QWidget *parent = nullptr);\n    ~" +
                      wired_ + "() override;\n\n";
    if (!events_.isEmpty())
        text += "protected:\n    bool eventFilter(QObject *" + watched_ + ", QEvent *" + event_ +
                ") override;\n\n";
    text += "private:\n    void wire();\n";
    text += jobMembers() + stepMembers();
    for (const ObjectNode &o : w_.objects)
        if (o.thread)
            text += "    QThread " + o.name.toUtf8() + "Thread_; // its slots run there\n";
    if (after_)
        text += "    // To the widget itself, past the filter; false when that was the end of it.\n    bool "
                "pass(QObject "
                "*to, QEvent *" +
                event_ + ");\n\n    QEvent *passing_ = nullptr;\n";
    return text + "};\n";
}

// From here on nothing calls a handler: the window's parts are about to go.
void WiringWriter::destruction()
{
    line();
    open(wired_ + "::~" + wired_ + "()\n{");
    for (const Handler *h : background_)
        line((h->isTogether() ? runs(*h) + ".cancel();" : h->name.toUtf8() + "Job->cancel();"));
    line("// Nothing may call a handler while the parts of the window are destroyed.");
    const QByteArray part = locals_.of("part"), parts = locals_.of("parts");
    line("const QList<QObject *> " + parts + " = findChildren<QObject *>();");
    line("for (QObject *" + part + " : " + parts + ")");
    line("    " + part + "->disconnect(this);");
    line("disconnect(this);");
    for (const ObjectNode &o : w_.objects)
        if (o.thread) { // it ends with its thread, after what it is at
            line(o.name.toUtf8() + "->disconnect(this);");
            line(o.name.toUtf8() + "Thread_.quit();");
        }
    for (const ObjectNode &o : w_.objects)
        if (o.knownClass() == "QProcess" && !o.thread) {
            line(o.name.toUtf8() + "->terminate();");
            line(o.name.toUtf8() + "->waitForFinished(500);");
        }
    for (const Handler *h : background_)
        line(h->isTogether() ? runs(*h) + ".join();" : "wiring::join(" + h->name.toUtf8() + "Job);");
    for (const ObjectNode &o : w_.objects)
        if (o.thread)
            line(o.name.toUtf8() + "Thread_.wait();");
    close("}");
}

Result<WiringText> WiringWriter::write()
{
    if (auto ok = collect(); !ok)
        return ok.problem();
    WiringText text;
    text.header = header();
    line("// Made by Pipit; edits here are overwritten.");
    line("#include \"" + w_.file.toUtf8() + "_wiring.h\"");
    line();
    if (index_ == 0 && p_.windows.size() > 1) {
        for (qsizetype i = 1; i < p_.windows.size(); ++i)
            line("#include \"" + p_.windows[i].file.toUtf8() + "_wiring.h\"");
        line();
    }
    if (!events_.isEmpty()) {
        for (const char *h :
             {"QtCore/QCoreApplication", "QtCore/QMimeData", "QtGui/QEnterEvent", "QtGui/QWindow"})
            line("#include <" + QByteArray(h) + '>');
        line();
    }
    open(wired_ + "::" + wired_ + "(QWidget *parent) : " + user_ + "(parent)\n{");
    for (qsizetype i = 1; index_ == 0 && i < p_.windows.size(); ++i) {
        const QByteArray n = p_.windows[i].root.name.toUtf8();
        const bool dialog = Catalog::get().inherits(p_.windows[i].root.className, "QDialog");
        line(n + " = new " + p_.windows[i].className.toUtf8() + "Wired(this);");
        line(n + "->setWindowFlag(" + (dialog ? "Qt::Dialog" : "Qt::Window") + ");");
    }
    line("wire();");
    close("}");
    destruction();
    line();
    open("void " + wired_ + "::wire()\n{");
    used_.clear();
    for (const Group &g : std::as_const(signals_))
        if (auto ok = signalConnection(g); !ok)
            return ok.problem();
    jobEnds();
    stepTimers();
    if (!events_.isEmpty())
        installFilter();
    starts();
    close("}");
    jobs();
    steps();
    if (!events_.isEmpty())
        if (auto ok = eventFilter(); !ok)
            return ok.problem();
    text.source = out_;
    text.lines = lines_;
    return text;
}

Result<WiringText> wiringFor(const Reach &reach, int window, const ProjectPlace &place,
                             const QSet<QString> &overloaded)
{
    return WiringWriter(reach, window, place, overloaded).write();
}

} // namespace pipit
