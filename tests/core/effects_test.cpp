// What code touches, what is slow, who else uses what: small programs read by the reader, beside a toolkit
// of a few lines that is compiled once.
#include "core/base/files.h"
#include "core/build/compiler.h"
#include "core/code/reader.h"
#include "core/moves/effects.h"
#include "core/moves/other_place.h"
#include "core/moves/surroundings.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QTemporaryDir>

using namespace pipit;
using namespace pipit::tests;

namespace
{

constexpr char toolkit[] = R"(#pragma once
#include <functional>
#include <string>
#include <vector>
struct QObject { virtual ~QObject() = default; };
struct QWidget : QObject { bool isEnabled() const; void setEnabled(bool); };
struct QLabel : QWidget { std::string text() const; void setText(const std::string &); };
template <class... A> void connect(A &&...) {}
)";

QString compiledToolkit()
{
    static const QTemporaryDir dir;
    static const QString compiled = [] {
        const QString header = dir.path() + "/kit.h";
        if (!writeFile(header, toolkit))
            qFatal("%s cannot be written", qPrintable(header));
        const Ran ran =
            command(clang()->program, {"-std=c++17", "-x", "c++-header", header, "-o", header + ".pch"});
        if (ran.code != 0)
            qFatal("%s", ran.err.constData());
        return header + ".pch";
    }();
    return compiled;
}

class Snippet
{
public:
    // `code` stands below the toolkit.
    explicit Snippet(const QByteArray &code)
    {
        if (!QDir(dir_.path()).mkpath("own") || !writeFile(file(), "\n" + code))
            qFatal("%s cannot be written", qPrintable(dir_.path()));
        text = QString::fromUtf8(*readFile(file()));
    }
    CodeUnit read(const QString &function)
    {
        const std::atomic<bool> cancel{false};
        CodeReader reader(cancel);
        CodeQuestion q;
        q.file = file();
        q.arguments = {"-std=c++17", "-include-pch", compiledToolkit()};
        q.own = {dir_.path() + "/own/"};
        q.functions = {function};
        auto unit = reader.read(q);
        if (!unit)
            qFatal("%s", qPrintable(unit.problem().text()));
        for (const CodeMessage &m : unit->messages)
            if (m.error)
                qFatal("%d: %s", m.line, qPrintable(m.text));
        return *unit;
    }
    QString text;

private:
    QString file() const { return dir_.path() + "/own/code.cpp"; }
    QTemporaryDir dir_;
};

// "reads label; changes total_", in the order in which they stand.
QStringList wordsOf(const QList<Effect> &effects)
{
    static const char *const names[] = {"reads a widget", "sets a widget", "reads", "changes", "asks",
                                        "pumps",          "emits",         "makes", "sender",  "unknown"};
    QStringList out;
    for (const Effect &e : effects) {
        const QString name = e.what.section(' ', 0, 0);
        out << QString(names[e.kind]) + ' ' + name + (e.through.isEmpty() ? QString() : " in " + e.through) +
                   (e.ofThis ? "" : ", of another");
    }
    out.removeDuplicates();
    return out;
}

} // namespace

class EffectsTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void whatABodyTouches_data();
    void whatABodyTouches();
    void whatMayTakeLong_data();
    void whatMayTakeLong();
    void whatCanBeCarried_data();
    void whatCanBeCarried();
    void whoElseUsesWhat_data();
    void whoElseUsesWhat();
    void lambdasAreFoundByTheirLines();
    void bodiesComeUpAndGoBack();
};

void EffectsTest::whatABodyTouches_data()
{
    QTest::addColumn<QByteArray>("body");
    QTest::addColumn<QStringList>("touches");
    const auto row = [](const char *name, const char *body, const QStringList &touches) {
        QTest::newRow(name) << QByteArray(body) << touches;
    };
    row("its own only", "int n = 0; for (int i = 0; i < 9; ++i) n += i;", {});
    row("a widget read and set", "if (label->text().empty()) label->setEnabled(false);",
        {"reads a widget label", "sets a widget label"});
    row("a member set as a whole is not read", "total = 1;", {"changes total"});
    row("a member added to is", "total += 1;", {"changes total", "reads total"});
    row("through a method", "int n = half(); total = n;", {"reads total in half", "changes total"});
    row("through two methods", "int n = quarter(); (void)n;", {"reads total in half"});
    row("a method of another", "Tally other; other.grow();", {});
    row("of another's, by a pointer", "next->grow();",
        {"changes total in grow, of another", "reads total in grow, of another"});
    row("a constant of the function", "static const std::vector<int> sizes{1, 2}; int n = sizes[0]; (void)n;",
        {});
    row("a variable that it keeps", "static int calls = 0; ++calls;", {"changes calls", "reads calls"});
    row("a constant made of what changes", "static const int once = total; (void)once;",
        {"changes once", "reads total", "reads once"});
    row("a function that is held, and known",
        "std::function<int(int)> f; f = [&f](int n) { return n ? f(n - 1) : 0; }; f(3);", {});
    row("one that touches something", "std::function<void()> f = [this] { label->setText(\"x\"); }; f();",
        {"sets a widget label", "sets a widget label in f, of another"});
    row("one that comes from elsewhere", "std::function<void()> f = given; f();",
        {"reads given", "unknown the"});
    row("a function pointer", "int (*f)(int) = &twice; f(2);", {"unknown the"});
    row("a virtual function", "price();", {"unknown price"});
    row("a widget that is handed on", "show(label);", {"sets a widget label in show, of another"});
    row("a pointer to what may be anybody's", "*box = 2;", {"reads box", "unknown what"});
    row("a pointer to its own", "int n = 0; int *p = &n; *p = 2;", {});
}

void EffectsTest::whatABodyTouches()
{
    QFETCH(QByteArray, body);
    QFETCH(QStringList, touches);
    Snippet program("int twice(int n) { return 2 * n; }\nvoid show(QLabel *l) { l->setText(\"x\"); }\n"
                    "struct Tally { int n = 0; void grow() { ++n; } };\nstruct Desk : QWidget {\n    void "
                    "go();\n    int half() const { return total / 2; }\n"
                    "    int quarter() const { return half() / 2; }\n    void grow() { ++total; }\n"
                    "    virtual int price() { return 1; }\n    QLabel *label;\n    Desk *next;\n    int "
                    "total = 0, *box;\n"
                    "    std::function<void()> given;\n};\nvoid Desk::go()\n{\n    " +
                    body + "\n}\n");
    const CodeUnit unit = program.read("Desk::go");
    const Effects effects(unit);
    QStringList found = wordsOf(effects.of(unit.function("Desk::go")->body));
    found.sort();
    touches.sort();
    QCOMPARE(found, touches);
}

void EffectsTest::whatMayTakeLong_data()
{
    QTest::addColumn<QByteArray>("statement");
    QTest::addColumn<bool>("slow");
    QTest::newRow("plain") << QByteArray("n = twice(n);") << false;
    QTest::newRow("a loop") << QByteArray("for (int i = 0; i < n; ++i) n -= i;") << true;
    QTest::newRow("a loop in a function") << QByteArray("n = sum(n);") << true;
    QTest::newRow("a loop in a function's function") << QByteArray("n = sums(n);") << true;
    QTest::newRow("one that calls itself") << QByteArray("n = power(n);") << true;
    QTest::newRow("two that call each other") << QByteArray("n = ping(n);") << true;
    QTest::newRow("one that calls itself to show") << QByteArray("enable(label, n);") << false;
    QTest::newRow("a loop that only shows")
        << QByteArray("for (int i = 0; i < n; ++i) label->setText(std::to_string(i));") << false;
}

void EffectsTest::whatMayTakeLong()
{
    QFETCH(QByteArray, statement);
    QFETCH(bool, slow);
    Snippet program(
        "int twice(int n) { return 2 * n; }\n"
        "int sum(int n) { int s = 0; for (int i = 0; i < n; ++i) s += i; return s; }\n"
        "int sums(int n) { return sum(n) + 1; }\nint power(int n) { return n ? 2 * power(n - 1) : 1; }\n"
        "int pong(int n);\nint ping(int n) { return n ? pong(n - 1) : 0; }\nint pong(int n) { return "
        "ping(n); }\n"
        "void enable(QLabel *l, int n) { l->setEnabled(n); if (n) enable(l, n - 1); }\n"
        "void go(int n, QLabel *label)\n{\n    " +
        statement + "\n    (void)n;\n    (void)label;\n}\n");
    const CodeUnit unit = program.read("go");
    const Effects effects(unit);
    QCOMPARE(effects.mayTakeLong(unit.function("go")->body.children.first()), slow);
}

void EffectsTest::whatCanBeCarried_data()
{
    QTest::addColumn<QByteArray>("type");
    QTest::addColumn<QString>("why"); // not; empty: it can
    QTest::newRow("a number") << QByteArray("int") << QString();
    QTest::newRow("texts") << QByteArray("std::vector<std::string>") << QString();
    QTest::newRow("a struct of the file") << QByteArray("Row") << "declared in the source file";
    QTest::newRow("many of them") << QByteArray("std::vector<Row>")
                                  << "elements is declared in the source file";
    QTest::newRow("an enumeration of the file") << QByteArray("Way") << "declared in the source file";
    QTest::newRow("one within the class") << QByteArray("Desk::Part") << "its type is declared";
    QTest::newRow("a widget") << QByteArray("QLabel *") << "it is a widget";
    QTest::newRow("widgets") << QByteArray("std::vector<QLabel *>") << "contains pointers";
    QTest::newRow("a pointer") << QByteArray("int *") << "it is a pointer";
    QTest::newRow("a function") << QByteArray("std::function<void()>") << "what it refers to is unknown";
}

void EffectsTest::whatCanBeCarried()
{
    QFETCH(QByteArray, type);
    QFETCH(QString, why);
    Snippet program("struct Row { int n = 0; };\nenum class Way { Up, Down };\n"
                    "struct Desk : QWidget { struct Part { int n = 0; }; };\n"
                    "template <class T> void take(const T &) {}\nvoid go()\n{\n    " +
                    type + " it{};\n    take(it);\n}\n");
    const CodeUnit unit = program.read("go");
    const Effects effects(unit);
    int decl = -1;
    unit.function("go")->body.each([&](const CodeNode &n) {
        if (n.is("variable"))
            decl = n.decl;
        return true;
    });
    QVERIFY(unit.decl(decl));
    const QString said = effects.keptFromMoving(unit.decl(decl)->type);
    QVERIFY2(why.isEmpty() ? said.isEmpty() : said.contains(why), qPrintable(said));
}

void EffectsTest::whoElseUsesWhat_data()
{
    QTest::addColumn<QByteArray>("others"); // of the class
    QTest::addColumn<bool>("shared");
    QTest::addColumn<QStringList>("texts"); // of other files
    const auto row = [](const char *name, const char *others, bool shared, const QStringList &texts = {}) {
        QTest::newRow(name) << QByteArray(others) << shared << texts;
    };
    row("nobody", "", false);
    row("another function", "void show() { total = 2; }", true);
    row("the constructor", "Desk() { total = 2; }", false);
    row("what only the constructor calls", "Desk() { make(); } void make() { total = 2; }", false);
    row("what the constructor and another call",
        "Desk() { make(); } void make() { total = 2; } void again() { make(); }", true);
    row("a lambda in the constructor, which may run when it is over",
        "Desk() { connect([this] { total = 2; }); }", true);
    row("a helper of its own", "int half() { return total / 2; }", false);
    row("a helper that another calls too", "int half() { return total / 2; } void show() { half(); }", true);
    row("another file", "", true, {"desk->total = 1;"});
    row("another file's other word", "", false, {"desk->totals = 1;"});
}

void EffectsTest::whoElseUsesWhat()
{
    QFETCH(QByteArray, others);
    QFETCH(bool, shared);
    QFETCH(QStringList, texts);
    const bool helps = others.contains("half()");
    Snippet program("struct Desk : QWidget {\n    void go();\n    " + others +
                    "\n    int total = 0;\n};\nvoid Desk::go()\n{\n    total += " + (helps ? "half()" : "1") +
                    ";\n}\n");
    const CodeUnit unit = program.read("Desk::go");
    const Surroundings around = surroundingsOf(unit, "Desk::go", texts, {});
    bool found = false;
    for (const int d : around.shared)
        found = found || unit.decl(d)->name == "total";
    QCOMPARE(found, shared);
}

void EffectsTest::lambdasAreFoundByTheirLines()
{
    Snippet program("void go(QLabel *label)\n{\n    connect(label, [label] { label->setText(\"one\"); });\n"
                    "    connect(label, [=] {\n        connect(label, [=] {\n            "
                    "label->setText(\"inner\");\n        });\n"
                    "        label->setText(\"outer\");\n    });\n}\n");
    const CodeUnit unit = program.read("go");
    const auto at = [&](const char *word) {
        const int line = int(program.text.left(program.text.indexOf(QLatin1String(word))).count('\n')) + 1;
        const auto found = lambdaAt(unit, program.text, line);
        return found ? program.text.mid(found->node->begin, found->node->end - found->node->begin)
                     : QString();
    };
    QVERIFY(at("one").startsWith("[label]"));
    QVERIFY(at("inner").contains("inner") && !at("inner").contains("outer"));
    QVERIFY(at("outer").contains("inner")); // the one around both
    QVERIFY(at("void go").isEmpty());
    QCOMPARE(functionAt(unit, program.text, 3), unit.function("go"));
    const auto found = lambdaAt(unit, program.text, 4);
    QVERIFY(found && found->call);
    QCOMPARE(needsOf(*found, unit, program.text).captures, QString("label"));
}

// What is taken up to the depth of a function and put back is what it was.
void EffectsTest::bodiesComeUpAndGoBack()
{
    Snippet program(
        "struct Desk : QWidget {\n    void deep()\n    {\n        if (isEnabled()) {\n\n            "
        "setEnabled(false);\n"
        "        }\n    }\n    void flat() { setEnabled(true); }\n};\nvoid plain()\n{\n    Desk d;\n}\n");
    for (const char *name : {"Desk::deep", "plain"}) {
        const CodeUnit unit = program.read(name);
        const CodeNode &body = unit.function(name)->body;
        const QString old = program.text.mid(body.begin, body.end - body.begin);
        const Dedented up = dedented(program.text, body);
        QCOMPARE(up.by, name == QByteArray("plain") ? 0 : 4);
        const QString now = up.text.mid(body.begin, old.size() - (program.text.size() - up.text.size()));
        QVERIFY2(now.startsWith("{\n    ") && now.endsWith("\n}"), qPrintable(now));
        QCOMPARE(indented(now, up.by), old);
    }
    const CodeUnit unit = program.read("Desk::flat");
    const CodeNode &body = unit.function("Desk::flat")->body;
    QVERIFY(dedented(program.text, body).text.contains("{\n    setEnabled(true);\n}"));
    QCOMPARE(topLevelBefore(program.text, program.text.indexOf("flat")), program.text.indexOf("struct Desk"));
    QCOMPARE(topLevelBefore(program.text, program.text.indexOf("Desk d")),
             program.text.indexOf("void plain"));
}

PIPIT_TEST(EffectsTest)
#include "effects_test.moc"
