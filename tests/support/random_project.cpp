#include "tests/support/random_project.h"

#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/catalog/catalog.h"
#include "core/project/reach.h"
#include "core/project/values.h"
#include "tests/support/support.h"

namespace pipit::tests
{

namespace
{

class Maker
{
public:
    Maker(const QString &folder, quint32 seed) : random_(seed), folder_(folder) {}

    RandomProject run()
    {
        auto made = Workspace::create(folder_);
        if (!made)
            qFatal("%s", qPrintable(made.problem().text()));
        w_ = &*made;
        compose();
        wire();
        if (auto ok = w_->save(); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        if (auto ok = w_->generate(); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        RandomProject p{std::move(*made), {}};
        writeProgram(p);
        return p;
    }

private:
    template <class T> const T &any(const QList<T> &list) { return list[random_.bounded(list.size())]; }

    void must(const Outcome &ok)
    {
        if (!ok)
            qFatal("%s", qPrintable(ok.problem().text()));
    }

    // One of every class, so that all seeds share one precompiled header; their places at random.
    void compose()
    {
        QStringList homes{"."};
        AddRequest dialog;
        dialog.words = "dialog";
        dialog.name = "otherDialog";
        must(w_->add(dialog, ".") ? Outcome(Done{}) : Outcome(Problem{"no dialog", {}, {}}));
        homes << "otherDialog";
        int n = 0;
        for (const QString &cls : Catalog::get().classes()) {
            if (cls == "QMainWindow" || cls == "QDialog")
                continue;
            for (int i = random_.bounded(3); i >= 0; --i) {
                AddRequest r;
                r.words = cls;
                r.name = QStringLiteral("%1_%2").arg(cls.mid(1).toLower()).arg(n++);
                auto made = w_->add(r, any(homes));
                if (!made)
                    qFatal("%s", qPrintable(made.problem().text()));
                if (QStringList{"QWidget", "QGroupBox", "QFrame", "QTabWidget", "QSplitter", "QScrollArea"}
                        .contains(cls))
                    homes << r.name;
                if (const WidgetNode *node = w_->project().widget(r.name))
                    properties(*node);
            }
        }
    }

    void properties(const WidgetNode &node)
    {
        const auto all = Catalog::get().propertiesOf(node.knownClass());
        if (all.isEmpty())
            return;
        for (int i = 0; i < 3; ++i) {
            const PropertyEntry &p = all[random_.bounded(all.size())];
            QString value;
            if (!p.keys.isEmpty())
                value = p.keys[random_.bounded(p.keys.size())];
            else if (p.type == "bool")
                value = "true";
            else if (p.type == "int")
                value = QString::number(random_.bounded(20));
            else if (p.type == "QString")
                value = "a \"text\" */ ?\?/ \\ ä";
            else if (p.type == "QFont")
                value = "bold 11";
            else if (p.type == "QColor")
                value = "teal";
            else if (p.type == "QSize")
                value = "40x30";
            static const QStringList touchy = {"windowModality", "visible", "enabled", "dragType"};
            if (!value.isNull() && !touchy.contains(p.name))
                (void)bool(w_->setProperty(node.name, p.name, value));
        }
    }

    void wire()
    {
        const Reach reach(w_->project());
        QStringList names = w_->project().objectNames();
        names.sort();
        for (int i = 0; i < 60; ++i) {
            ConnectRequest r;
            r.source = any(names);
            const QString cls = reach.classOf(r.source);
            r.target = QStringLiteral("handler%1").arg(random_.bounded(50));
            if (random_.bounded(4) == 0 && Catalog::get().isWidget(cls) &&
                !Catalog::holds(cls)) { // what a widget leaves alone goes on to its parents
                static const QList<std::pair<QString, QString>> events = {
                    {"key press", "key Return"},    {"key press", "key Ctrl+K"},     {"key press", ""},
                    {"mouse press", "button left"}, {"mouse press", "button right"}, {"close", ""}};
                const auto &[event, when] = events[random_.bounded(events.size())];
                r.what = event;
                r.when = when;
                r.after = random_.bounded(3) == 0;
                r.target = 'e' + r.target;
            } else {
                const auto all = Catalog::get().signalsOf(cls);
                if (all.isEmpty())
                    continue; // room in a layout
                const SignalEntry &s = all[random_.bounded(all.size())];
                if (s.owner == "QObject" || s.signature.startsWith("destroyed"))
                    continue;
                r.what = s.signature;
                if (random_.bounded(6) == 0) // everything of that class at once
                    r.source = cls;
            }
            r.enabled = random_.bounded(8) != 0;
            (void)bool(w_->connect(r)); // one that does not fit is refused, and that is as it should be
        }
    }

    // For each source and occasion that anything is connected to: what the program does about it,
    // and which handlers must be heard.
    void writeProgram(RandomProject &p)
    {
        const Project &project = p.workspace.project();
        const Reach reach(project);
        QList<std::pair<QString, QString>> occasions; // source, what
        QHash<QString, QList<const Connection *>> by;
        for (const Connection &c : project.connections) {
            auto sources = reach.sources(c);
            for (const QString &s : sources ? *sources : QStringList()) {
                const QString key = s + '|' + c.what();
                if (!by.contains(key))
                    occasions.append({s, c.what()});
                by[key].append(&c);
            }
        }
        QByteArray body =
            "    setAttribute(Qt::WA_DontShowOnScreen);\n    QTimer::singleShot(0, this, [this] {\n";
        for (const auto &[source, what] : std::as_const(occasions)) {
            const auto &connections = by[source + '|' + what];
            const QByteArray object = reach.code(source, {}, 0);
            const QByteArray head = (source + ' ' + what).toUtf8();
            body += "        std::printf(\"> " + head + "\\n\");\n";
            p.expected << "> " + head;
            if (Catalog::get().event(what)) {
                sendEvent(body, object, source, what, reach);
                expectEvent(p, connections, what);
            } else {
                auto signal = reach.signal(source, {}, what);
                body += "        give(" + object + ", \"" + signal->signature.toUtf8() + "\");\n";
                for (const int home : {0, 1}) // each window's wiring is made as one
                    for (const Connection *c : connections)
                        if (c->enabled && reach.home(*c, source) == home)
                            (home == 0 ? first_ : second_) << c->to.toUtf8();
                // The dialog is made, and wired, before the first window is.
                p.expected += second_;
                p.expected += first_;
                first_.clear();
                second_.clear();
            }
        }
        body += "        std::fflush(stdout);\n        std::_Exit(0);\n    });\n";
        writeSources(project, body);
    }

    static void sendEvent(QByteArray &body, const QByteArray &object, const QString &source,
                          const QString &what, const Reach &reach)
    {
        const bool scrolls = Catalog::get().inherits(reach.classOf(source), "QAbstractScrollArea");
        const QByteArray viewport = scrolls ? object + "->viewport()" : object;
        if (what == "key press")
            body += "        { QKeyEvent e(QEvent::KeyPress, Qt::Key_Return, Qt::NoModifier); send(" +
                    object + ", &e); }\n";
        else if (what == "mouse press")
            body += "        { QMouseEvent e(QEvent::MouseButtonPress, QPointF(1, 1), QPointF(1, 1), "
                    "Qt::LeftButton, "
                    "Qt::LeftButton, Qt::NoModifier); send(" +
                    viewport + ", &e); }\n";
        else if (what == "close")
            body += "        { QCloseEvent e; send(" + object + ", &e); }\n";
    }

    // Every handler says that it handled the event, so the first that is called ends it; those that
    // come after the widget are called only when none did.
    static void expectEvent(RandomProject &p, const QList<const Connection *> &connections, const QString &)
    {
        const auto holds = [](const Connection *c) {
            return c->enabled && (c->when.isEmpty() || c->when == "key Return" || c->when == "button left");
        };
        for (const Connection *c : connections)
            if (!c->after && holds(c)) {
                p.expected << c->to.toUtf8();
                return;
            }
        for (const Connection *c : connections)
            if (c->after && holds(c))
                p.expected << c->to.toUtf8();
    }

    void writeSources(const Project &project, const QByteArray &body)
    {
        static const char helpers[] = R"cpp(
#include <QtCore/QMetaMethod>
#include <QtGui/QContextMenuEvent>
#include <QtWidgets/QApplication>

#include <cstdio>
#include <cstdlib>

extern bool quiet; // no signal handler prints

// Gives a signal with arguments made by default.
[[maybe_unused]] static void give(QObject *o, const char *signature)
{
    const QMetaMethod m = o->metaObject()->method(o->metaObject()->indexOfMethod(signature));
    void *arguments[11] = {};
    for (int i = 0; i < m.parameterCount(); ++i)
        arguments[i + 1] = m.parameterMetaType(i).create();
    QMetaObject::activate(o, m.enclosingMetaObject(),
                          m.methodIndex() - m.enclosingMetaObject()->methodOffset(), arguments);
}

[[maybe_unused]] static void send(QObject *o, QEvent *e)
{
    quiet = true; // what the widget itself makes of it is its own business
    QCoreApplication::sendEvent(o, e);
    quiet = false;
}
)cpp";
        for (const WindowNode &w : project.windows) {
            const QString file = folder_ + '/' + w.sourceFile();
            auto bytes = readFile(file);
            QByteArray code = *bytes;
            for (const Handler &h : project.handlers)
                if (h.file == w.sourceFile()) {
                    const QByteArray open = w.className.toUtf8() + "::" + h.name.toUtf8() + '(';
                    const qsizetype brace = code.indexOf('{', code.indexOf(open));
                    const qsizetype end = code.indexOf("\n}", brace);
                    QByteArray rest = code.mid(brace + 1, end - brace - 1);
                    rest.replace("return false;", "return true;");
                    const QByteArray when =
                        h.kind == HandlerKind::Event ? "\n    " : "\n    if (!quiet)\n        ";
                    code.replace(brace + 1, end - brace - 1,
                                 when + "std::printf(\"" + h.name.toUtf8() + "\\n\");" + rest);
                }
            code.insert(code.indexOf('\n', code.indexOf("#include")) + 1, helpers);
            if (&w == &project.windows.first())
                code.insert(code.indexOf("{\n}") + 2, body).append("\nbool quiet = false;\n");
            must(writeFile(file, code));
        }
    }

    QRandomGenerator random_;
    QString folder_;
    Workspace *w_ = nullptr;
    QByteArrayList first_, second_;
};

} // namespace

RandomProject makeRandomProject(const QString &folder, quint32 seed)
{
    return Maker(folder, seed).run();
}

QString trial(RandomProject &p)
{
    auto again = Workspace::open(p.workspace.place().file); // the sources were written behind its back
    if (!again)
        return again.problem().text();
    Builder builder(again->place());
    auto report = builder.build(again->project(), again->files());
    if (!report)
        return report.problem().text();
    if (!report->ok) {
        QString text;
        for (const BuildMessage &m : report->messages)
            if (m.error)
                text += QStringLiteral("%1:%2 %3\n").arg(m.file).arg(m.line).arg(m.text);
        return text.left(3000);
    }
    const Ran ran = command(report->program, {}, {}, 60'000);
    QByteArrayList printed = ran.out.split('\n');
    printed.removeAll({});
    for (qsizetype i = 0; i < std::max(printed.size(), p.expected.size()); ++i)
        if (printed.value(i) != p.expected.value(i))
            return QStringLiteral("line %1: '%2' instead of '%3', after %4\nexit %5\n%6")
                .arg(i)
                .arg(QString::fromUtf8(printed.value(i)), QString::fromUtf8(p.expected.value(i)),
                     QString::fromUtf8(printed.mid(std::max<qsizetype>(0, i - 3), 3).join(", ")))
                .arg(ran.code)
                .arg(QString::fromUtf8(ran.err.left(500)));
    return {};
}

} // namespace pipit::tests
