// The proof of races: windows whose handlers were moved are used under the thread sanitizer. The toolkit
// itself is not built for it, so what comes before what is marked where work begins, where it passes
// something on, and where the loop takes it. Twenty planted races must be caught first: a net that catches
// nothing proves nothing.
//
// Each case is a line in the file that is named; those that stand there are not tried again.
#include "core/base/files.h"
#include "core/build/compiler.h"
#include "core/codegen/generate.h"
#include "tests/support/handlers.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QMap>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>

#include <cstdio>

using namespace pipit;
using namespace pipit::tests;

namespace
{

constexpr char marks[] = R"(#pragma once
#include <QtConcurrent/QtConcurrentRun>
#include <QtCore/QPromise>
#include <QtWidgets/QApplication>

extern "C" void __tsan_acquire(void *);
extern "C" void __tsan_release(void *);

namespace marked
{

inline char passedOn; // by the work

template <class R, class C> R resultOf(void (C::*)(QPromise<R> &) const);

template <class F> auto wrapped(F work)
{
    using R = decltype(resultOf(&F::operator()));
    F *kept = new F(std::move(work)); // what it has is there before the mark
    char *begun = new char; // never given back: an address that is used anew would mark something else
    __tsan_release(begun);
    return [kept, begun](QPromise<R> &promise) {
        __tsan_acquire(begun);
        (*kept)(promise);
        delete kept;
        __tsan_release(&passedOn);
    };
}
template <class F> auto run(F work)
{
    return QtConcurrent::run(wrapped(std::move(work)));
}
template <class F> auto run(QThreadPool *pool, F work)
{
    return QtConcurrent::run(pool, wrapped(std::move(work)));
}
inline void passes()
{
    __tsan_release(&passedOn);
}
inline int takes(int index = 0)
{
    __tsan_acquire(&passedOn);
    return index;
}

} // namespace marked
)",
               driver[] = R"(
#include <QtCore/QElapsedTimer>
#include <QtWidgets/QApplication>

#include <random>

static void serve(int ms)
{
    QElapsedTimer t;
    t.start();
    do
        QCoreApplication::processEvents(QEventLoop::AllEvents, 2);
    while (t.elapsed() < ms);
}

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    std::mt19937 random(@seed@);
    for (int round = 0; round < 3; ++round) {
        DeskWired desk;
        desk.show();
        for (int i = 0; i < 30; ++i) {
            desk.nameField->setText(QString(int(random() % 5 + 1), QChar('a' + i % 26)));
            desk.countSpin->setValue(int(random() % 9));
            desk.goButton->click();
            serve(int(random() % 6));
            if (random() % 9 == 0)
                desk.goJob->cancel();
        }
        serve(round == 0 ? 500 : 0); // the others are closed in the middle
    }
    std::puts("driven");
}
)";

struct Planted {
    const char *name, *declared, *work, *loop;
};

// What both sides touch; `n` is a number of the work's own.
constexpr Planted planted[] = {
    {"a count", "static int seen;", "++seen;", "++seen;"},
    {"a flag", "static bool busy;", "busy = true;", "if (busy) statusLabel->clear();"},
    {"a number with a fraction", "static double mean;", "mean += 0.5;", "mean *= 0.5;"},
    {"letters of an array", "static char text[8];", "text[3] = char(text[3] + 1);",
     "if (text[3] == 'z') statusLabel->clear();"},
    {"a vector", "static std::vector<int> all;", "all.push_back(1);", "all.push_back(2);"},
    {"a map", "static std::map<int, int> by;", "by[int(by.size()) % 9] = 1;", "by[3] += 1;"},
    {"a text of the toolkit", "static QString said;", "said = QString::number(7);",
     "said = nameField->text();"},
    {"a list of the toolkit", "static QList<int> rows;", "rows.append(1);", "rows.append(2);"},
    {"a hash of the toolkit", "static QHash<int, int> cache;", "cache.insert(1, 2);", "cache.insert(1, 3);"},
    {"a struct by its pointer", "struct Held { int a = 0; }; static Held held, *where = &held;",
     "where->a += 1;", "held.a += 1;"},
    {"a static variable of a helper", "static int next() { static int n = 0; return ++n; }", "next();",
     "next();"},
    {"what a pointer stands for", "static int cells[4]; static int *first = cells;", "first[2] = 1;",
     "cells[2] += 1;"},
    {"a text of the library's", "static std::string word;", "word += 'a';", "word.clear();"},
    {"what may be there", "static std::optional<int> found;", "found = 3;", "found.reset();"},
    {"a reference", "static int base; static int &other = base;", "other += 1;", "base += 1;"},
    {"a part of a word", "struct Bits { unsigned a : 3, b : 5; }; static Bits bits;", "bits.a = bits.a + 1;",
     "bits.b = bits.b + 1;"},
    {"a shared pointer that is set anew", "static std::shared_ptr<int> kept;",
     "kept = std::make_shared<int>(1);", "kept = std::make_shared<int>(2);"},
    {"a member of the window", "static Desk *desk;", "if (desk) desk->told_ += 1;",
     "desk = this; told_ += 1;"},
    {"a number that the loop only reads", "static qint64 sum;", "sum += 2;",
     "if (sum > 1000000000) statusLabel->clear();"},
    {"what the loop deletes", "static int *heap = new int(1);", "*heap = 2;",
     "delete heap; heap = new int(3);"},
};

// What is judged: how it was moved, and what is planted in it.
struct Trial {
    QString name;
    HandlerCase handler;
    QString again;
    const Planted *race = nullptr;
};

QString plantedIn(QString code, const Planted &race)
{
    static const QRegularExpression work("\\n\\w[^\\n]* goWork\\([^\\n]*\\n\\{\\n"),
        take("Desk::goTake\\(\\)\\n\\{\\n");
    const auto at = work.match(code);
    code.insert(at.capturedEnd(), QStringLiteral("    %1\n").arg(QLatin1String(race.work)));
    const auto loop = take.match(code);
    if (!at.hasMatch() || !loop.hasMatch())
        qFatal("the planted handler has another form");
    code.insert(loop.capturedEnd(), QStringLiteral("    %1\n").arg(QLatin1String(race.loop)));
    const qsizetype first = code.indexOf("Desk::Desk(");
    return code.insert(first, QLatin1String(race.declared) + QStringLiteral("\n\n"));
}

// Everything as one unit, with the marks in it.
Result<QString> sourceOf(const QString &folder, const Planted *race, unsigned seed)
{
    const auto read = [&](const char *name) { return QString::fromUtf8(*readFile(folder + '/' + name)); };
    QString support = read("generated/wiring_support.h"), wiring = read("generated/desk_wiring.cpp"),
            code = read("desk.cpp");
    support.replace("    Outcome<T> outcome;\n", "    marked::takes();\n    Outcome<T> outcome;\n");
    wiring.replace("QtConcurrent::run(", "marked::run(").replace("resultAt(i)", "resultAt(marked::takes(i))");
    code.replace("promise.addResult(", "marked::passes(), promise.addResult(");
    if (race)
        code = plantedIn(code, *race);
    QString driven = QLatin1String(driver);
    driven.replace("@seed@", QString::number(seed));
    for (const auto &[name, text] : {std::pair{"generated/wiring_support.h", support},
                                     {"generated/desk_wiring.cpp", wiring},
                                     {"desk.cpp", code},
                                     {"marks.h", QString(QLatin1String(marks))},
                                     {"all.cpp", "#include \"marks.h\"\n#include \"desk.cpp\"\n#include "
                                                 "\"generated/desk_base.cpp\"\n#include "
                                                 "\"generated/desk_wiring.cpp\"\n" +
                                                     driven}})
        if (auto ok = writeFile(folder + '/' + name, text.toUtf8()); !ok)
            return ok.problem();
    return folder + "/all.cpp";
}

QString outputOf(const QString &program, const QStringList &arguments, const QString &folder, int seconds,
                 int *code)
{
    QProcess p;
    p.setProcessChannelMode(QProcess::MergedChannels);
    p.setWorkingDirectory(folder);
    QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
    env.insert("QT_QPA_PLATFORM", "offscreen");
    // How the pool hands a task to its thread is its own, and lies before the first mark.
    if (!writeFile(folder + "/quiet.txt",
                   "race_top:QtConcurrent::\nrace_top:std::_Head_base\nrace_top:marked::\n"))
        return "not written";
    env.insert("TSAN_OPTIONS",
               "ignore_noninstrumented_modules=1 exitcode=0 suppressions=" + folder + "/quiet.txt");
    p.setProcessEnvironment(env);
    p.start(program, arguments);
    if (!p.waitForFinished(seconds * 1000)) {
        p.kill();
        p.waitForFinished();
    }
    *code = p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1;
    return QString::fromUtf8(p.readAll());
}

QString judged(const Trial &trial)
{
    QTemporaryDir dir;
    Workspace w = deskFor(trial.handler, dir.path() + "/desk");
    MoveQuestion q = MoveQuestion::of(w, "go", Shape::Background);
    q.again = trial.again;
    const auto move = planMove(q, false);
    if (!move || !move->refused.isEmpty())
        return "not moved: " + (move ? move->refused.first().reason : move.problem().text());
    if (!w.apply(move->edit) || !w.save() || !w.generate())
        return "not written";
    const QString folder = w.place().folder;
    const auto source = sourceOf(folder, trial.race, 7 + unsigned(qHash(trial.name)) % 1000);
    if (!source)
        return source.problem().text();
    int code = 0;
    QStringList flags = gcc().flags();
    flags.removeIf([](const QString &f) { return f.startsWith("-O") || f.startsWith("-W"); });
    const QString said =
        outputOf("g++",
                 flags + QStringList{"-O1", "-g1", "-fsanitize=thread", "-Wno-tsan", "-I.", "-o", "desk",
                                     "all.cpp", "-lQt6Concurrent", "-lQt6Widgets", "-lQt6Gui", "-lQt6Core"},
                 folder, 240, &code);
    if (code != 0)
        return "not built: " + said.left(600).simplified();
    const QString ran = outputOf(folder + "/desk", {}, folder, 120, &code);
    static const QRegularExpression summary("SUMMARY: ThreadSanitizer: ([^\\n]*)");
    const auto found = summary.match(ran);
    if (trial.race)
        return found.hasMatch() && ran.contains("data race") ? QString("caught") : QString("missed");
    if (found.hasMatch())
        return "race: " + found.captured(1).simplified();
    return ran.contains("driven") ? QString("clean") : "ended early: " + ran.right(300).simplified();
}

QList<Trial> trials(int each)
{
    QList<Trial> all;
    const HandlerCase base =
        bodyCase("    const QString name = nameField->text();\n    int n = 0;\n"
                 "    for (int i = 0; i < 40; ++i) {\n        QThread::usleep(50);\n"
                 "        n += i;\n    }\n    resultLabel->setText(name + QString::number(n));\n");
    for (const Planted &race : planted)
        all.append({QStringLiteral("planted: %1").arg(QLatin1String(race.name)), base, {}, &race});
    const QList<HandlerCase> cases = handlerCases("movable.txt");
    for (qsizetype i = 0; i < cases.size(); ++i) {
        const HandlerCase &one = cases[i];
        // A dialog would wait for somebody.
        const bool asks = one.body.contains("QMessageBox") || one.body.contains("QDialog");
        const bool keeps = one.members.contains('_'); // members are what is shared
        if (!asks && (keeps || i % each == 0))
            all.append({one.name, one, {}, nullptr});
    }
    for (const char *again : {"ignore", "restart", "together"})
        all.append({QStringLiteral("triggered again: %1").arg(QLatin1String(again)), base,
                    QLatin1String(again), nullptr});
    return all;
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "races.txt"));
    const int each = std::max(1, app.arguments().value(2, "5").toInt());
    const QString only = app.arguments().value(3);
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append)) {
        std::fprintf(stderr, "%s: %s\n", qPrintable(file.fileName()), qPrintable(file.errorString()));
        return 2;
    }
    file.seek(0);
    QMap<QString, QString> said;
    for (const QByteArray &line : file.readAll().split('\n'))
        if (const qsizetype tab = line.indexOf('\t'); tab > 0)
            said.insert(QString::fromUtf8(line.left(tab)), QString::fromUtf8(line.mid(tab + 1)));
    QMap<QString, int> counts;
    for (const Trial &trial : trials(each)) {
        if (!only.isEmpty() && !trial.name.contains(only))
            continue;
        QString verdict = said.value(trial.name);
        if (verdict.isEmpty() || !only.isEmpty()) {
            verdict = judged(trial);
            if (only.isEmpty())
                file.write((trial.name + '\t' + verdict + '\n').toUtf8());
            file.flush();
            std::printf("%s: %s\n", qPrintable(trial.name), qPrintable(verdict));
            std::fflush(stdout);
        }
        ++counts[verdict.section(':', 0, 0)];
    }
    QStringList words;
    for (auto it = counts.begin(); it != counts.end(); ++it)
        words << QStringLiteral("%1 %2").arg(it.value()).arg(it.key());
    std::printf("%s.\n", qPrintable(words.join(", ")));
    return counts.value("missed") + counts.value("race") + counts.value("not built") ? 1 : 0;
}
