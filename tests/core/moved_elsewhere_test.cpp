// Moving code that was not composed here: lambdas by their place, functions within their class, helpers.
#include "core/base/files.h"
#include "core/build/compiler.h"
#include "core/codegen/generate.h"
#include "core/moves/other.h"
#include "core/moves/other_place.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QTemporaryDir>

using namespace pipit;
using namespace pipit::tests;

namespace
{

constexpr char program[] = R"(#include <QtCore/QThread>
#include <QtWidgets/QApplication>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QListWidget>
#include <QtWidgets/QPushButton>

// A window of somebody's.
class Window : public QWidget
{
public:
    Window()
    {
        auto *load = new QPushButton("Load");
        auto *list = new QListWidget;
        connect(load, &QPushButton::clicked, this, [this, list] {
            const QString name = field_.text(); // typed
            status_->setText("loading");
            QStringList found;
            for (int i = 0; i < 300; ++i)
                found << name + QString::number(i * factor_);
            list->addItems(found);
            status_->setText(QString("%1 found").arg(found.size()));
        });
        connect(list, &QListWidget::currentRowChanged, this, [=](int row) {
            if (row < 0)
                return;
            double sum = weigh(row);
            status_->setText(QString::number(sum));
        });
        connect(load, &QPushButton::pressed, this, [this]() { ++presses_; });
        connect(load, &QPushButton::released, [=] { QThread::msleep(9); load->setText("x"); });
    }
    void heavy() {
        double sum = 0;
        for (int i = 0; i < 5000; ++i)
            sum += i % 7;
        status_->setText(QString::number(sum));
    }

private:
    double weigh(int n) const;
    QLabel *status_ = new QLabel(this);
    QLineEdit field_;
    int factor_ = 3, presses_ = 0;
};

double Window::weigh(int n) const
{
    double w = 0;
    for (int i = 0; i < 1000; ++i)
        w += n * factor_ + presses_;
    return w;
}

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Window w;
    QPushButton button("Sum");
    QLabel label;
    int times = 0;
    QObject::connect(&button, &QPushButton::clicked, &label, [&] {
        long sum = 0;
        for (long i = 0; i < 9000; ++i)
            sum += i;
        label.setText(QString::number(sum));
    });
    QObject::connect(&button, &QPushButton::pressed, &label, [&] {
        ++times;
        QThread::msleep(20);
    });
    const auto loose = [&] { QThread::msleep(times); };
    loose();
    return app.exec();
}
)";

class Folder
{
public:
    Folder()
    {
        // As a project with a precompiled header is read: a tenth of the time.
        const Compiler &compiler = clang() ? *clang() : gcc();
        const auto header = precompiled(compiler, toolkitHeaders({}, true), false);
        if (!header)
            qFatal("%s", qPrintable(header.problem().text()));
        const QString flags = (compiler.flags() + QStringList{"-include", *header}).join(' ');
        if (!writeFile(path() + "/window.cpp", program) ||
            !writeFile(path() + "/compile_commands.json",
                       ("[{\"directory\": \"" + path() + "\", \"file\": \"window.cpp\", \"command\": \"c++ " +
                        flags + " -o window.o -c window.cpp\"}]")
                           .toUtf8()))
            qFatal("%s cannot be written", qPrintable(path()));
    }
    QString path() const { return dir_.path(); }
    // The place of the line that holds a text.
    static QString at(const char *text)
    {
        const QString all = QString::fromUtf8(program);
        return QStringLiteral("window.cpp:%1")
            .arg(all.left(all.indexOf(QLatin1String(text))).count('\n') + 1);
    }
    Result<OtherMove> plan(const QString &what) const { return planOtherMove(path(), what, {}, false); }
    // The file as the change makes it.
    QString applied(const OtherMove &move) const
    {
        if (!writeFile(path() + "/change.diff", move.diff.toUtf8()) ||
            command("git", {"-C", path(), "apply", "change.diff"}).code != 0)
            return {};
        return QString::fromUtf8(*readFile(path() + "/window.cpp"));
    }

private:
    QTemporaryDir dir_;
};

} // namespace

class MovedElsewhereTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void aLambdaMovesByItsPlace();
    void helpersAreHandedMembers();
    void aLambdaInMainBelongsToWhatConnectNames();
    void aFunctionWithinItsClassStaysAsDeep();
    void whatCannotMoveSaysWhy_data();
    void whatCannotMoveSaysWhy();
    void placesThatAreNone();
};

void MovedElsewhereTest::aLambdaMovesByItsPlace()
{
    const Folder folder;
    const auto move = folder.plan(Folder::at("[this, list]"));
    QVERIFY2(move, qPrintable(move ? QString() : move.problem().text()));
    QVERIFY2(move->refused.isEmpty(), qPrintable(move->refused.value(0).reason));
    const QString after = folder.applied(*move);
    // Before the class, and with what stood above it.
    QVERIFY2(after.contains("} // namespace\n\n// A window of somebody's.\nclass Window"), qPrintable(after));
    QVERIFY(after.contains(
        "QStringList loadClickedWork(QPromise<QStringList> &promise, const LoadClickedInput &input)"));
    QVERIFY2(
        after.contains("            const QString name = field_.text(); // typed\n"
                       "            status_->setText(\"loading\");\n"
                       "            auto *job = new QFutureWatcher<QStringList>(this);\n"
                       "            connect(job, &QFutureWatcherBase::finished, this, [this, list, job] {\n"),
        qPrintable(after));
    QVERIFY(after.contains("                list->addItems(found);\n"));
    // All else is as it was.
    QVERIFY(after.contains("    void heavy() {\n        double sum = 0;\n"));
    QVERIFY(after.contains("#include <QFutureWatcher>\n"));
}

void MovedElsewhereTest::helpersAreHandedMembers()
{
    const Folder folder;
    const auto move = folder.plan(Folder::at("[=](int row)"));
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const QString after = folder.applied(*move);
    QVERIFY2(after.contains("static double weigh(int n, int factor_, int presses_)\n{\n    double w = 0;"),
             qPrintable(after));
    QVERIFY(
        after.contains("double Window::weigh(int n) const\n{\n    return ::weigh(n, factor_, presses_);\n}"));
    QVERIFY2(after.contains("const ListCurrentRowChangedInput input{row, factor_, presses_};"),
             qPrintable(after));
}

void MovedElsewhereTest::aLambdaInMainBelongsToWhatConnectNames()
{
    const Folder folder;
    const auto move = folder.plan(Folder::at("&QPushButton::clicked, &label, [&]"));
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const QString after = folder.applied(*move);
    QVERIFY2(after.contains("QObject::connect(job, &QFutureWatcherBase::finished, &label, [&, job] {"),
             qPrintable(after));
}

void MovedElsewhereTest::aFunctionWithinItsClassStaysAsDeep()
{
    const Folder folder;
    for (const QString &named : {QString("Window::heavy"), Folder::at("double sum = 0;\n        for")}) {
        const auto move = folder.plan(named);
        QVERIFY2(move && move->refused.isEmpty(),
                 qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
        QVERIFY2(move->diff.contains("     void heavy() {\n-        double sum = 0;"),
                 qPrintable(move->diff));
        QVERIFY(move->diff.contains("+            status_->setText(QString::number(sum));\n+        });"));
        QVERIFY(
            move->diff.contains("+double heavyWork(QPromise<double> &promise)\n+{\n+    double sum = 0;"));
    }
}

void MovedElsewhereTest::whatCannotMoveSaysWhy_data()
{
    QTest::addColumn<QString>("place");
    QTest::addColumn<QString>("says");
    QTest::newRow("outside") << Folder::at("&QPushButton::pressed, &label")
                             << "times is changed, and it is declared outside";
    QTest::newRow("nothing long") << Folder::at("++presses_; })") << "nothing in it is known to take long";
    QTest::newRow("nobody's") << Folder::at("const auto loose") << "its object is unknown";
    QTest::newRow("answers") << "Window::weigh"
                             << "returns a value";
}

void MovedElsewhereTest::whatCannotMoveSaysWhy()
{
    QFETCH(QString, place);
    QFETCH(QString, says);
    const Folder folder;
    const auto move = folder.plan(place);
    const QString said = !move                     ? move.problem().what
                         : move->refused.isEmpty() ? QString()
                                                   : move->refused[0].reason;
    QVERIFY2(said.contains(says), qPrintable(said));
    QVERIFY(!move || move->diff.isEmpty());
}

void MovedElsewhereTest::placesThatAreNone()
{
    const Folder folder;
    for (const auto &[place, says] : {std::pair{"window.cpp:9999", "There is no line 9999"},
                                      {"window.cpp:8", "There is no function at line 8"},
                                      {"windows.cpp:2", "compile_commands.json does not have this file"},
                                      {"Window::laod", "in none of the files"}}) {
        const auto move = folder.plan(QLatin1String(place));
        QVERIFY2(!move && move.problem().what.contains(QLatin1String(says)), place);
    }
    // What stands at the top, below what is included.
    const QString text = "#include <a>\n\nnamespace n {\n// Of b.\nstruct b { void f() {} };\n}\n";
    QCOMPARE(topLevelBefore(text, text.indexOf("void")), text.indexOf("// Of b."));
}

PIPIT_TEST(MovedElsewhereTest)
#include "moved_elsewhere_test.moc"
