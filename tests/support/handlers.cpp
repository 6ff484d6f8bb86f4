#include "tests/support/handlers.h"

#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/plays/player.h"
#include "tests/support/support.h"

#include <QRegularExpression>
#include <QTemporaryDir>

#include <random>

namespace pipit::tests
{

QList<HandlerCase> handlerCases(const QString &name)
{
    auto bytes = readFile(QStringLiteral(PIPIT_SOURCE_DIR "/tests/data/handlers/") + name);
    if (!bytes)
        qFatal("%s", qPrintable(bytes.problem().text()));
    QList<HandlerCase> all;
    for (const QString &line : QString::fromUtf8(*bytes).split('\n')) {
        if (line.startsWith("== "))
            all.append({line.mid(3), {}, {}, {}, false, false});
        else if (line.startsWith("-- members: "))
            all.last().members += line.mid(12);
        else if (line.startsWith("-- before: "))
            all.last().before += line.mid(11) + '\n';
        else if (line == "-- single")
            all.last().single = true;
        else if (line == "-- alone")
            all.last().alone = true;
        else if (!all.isEmpty())
            all.last().body += line + '\n';
    }
    return all;
}

namespace
{

constexpr char headers[] = R"(
#include <QtConcurrent/QtConcurrentMap>
#include <QtConcurrent/QtConcurrentRun>
#include <QtCore/QAbstractItemModel>
#include <QtCore/QCryptographicHash>
#include <QtCore/QDir>
#include <QtCore/QDate>
#include <QtCore/QElapsedTimer>
#include <QtCore/QFutureWatcher>
#include <QtCore/QJsonDocument>
#include <QtCore/QJsonObject>
#include <QtCore/QProcess>
#include <QtCore/QQueue>
#include <QtCore/QRegularExpression>
#include <QtCore/QScopeGuard>
#include <QtCore/QTemporaryFile>
#include <QtCore/QTextStream>
#include <QtCore/QThread>
#include <QtCore/QTimer>
#include <QtGui/QImage>
#include <QtWidgets/QMessageBox>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numeric>
#include <optional>
#include <sstream>
#include <stdexcept>
#include <thread>
)";

constexpr char telling[] = R"(
// Says what everything has come to, once nothing is under way any more.
void Desk::tell()
{
    bool busy = false;
    for (const QFutureWatcherBase *w : findChildren<QFutureWatcherBase *>())
        busy = busy || w->isRunning();
    for (const QTimer *t : findChildren<QTimer *>())
        busy = busy || (t->isActive() && t->interval() == 0);
    settled_ = busy ? 0 : settled_ + 1;
    if (settled_ < 4) {
        QTimer::singleShot(4, this, [this] { tell(); });
        return;
    }
    settled_ = 0;
    QStringList rows, selected;
    for (int i = 0; i < orderList->count(); ++i)
        rows << orderList->item(i)->text();
    for (const QListWidgetItem *i : orderList->selectedItems())
        selected << i->text();
    const QStringList all{story_.join('/'), statusLabel->text(), rows.join(','), selected.join(','),
                                            logText->toPlainText().replace('\n', '/'), QString::number(bar->value()),
                                            nameField->text(), windowTitle(), QString::number(countSpin->value()),
                                            goButton->isEnabled() ? QString("on") : QString("off")};
    qInfo("TOLD %s", qPrintable(all.join(" | ")));
    doneLabel->setText(QString::number(++told_));
}
)";

constexpr char members[] = R"(
    QStringList story_; // every text that the result had
    int settled_ = 0, told_ = 0, added_ = 0;
)";

} // namespace

Workspace deskFor(const HandlerCase &one, const QString &folder)
{
    Workspace w = makeProject(folder, [](Workspace &ws) {
        for (const auto &[kind, name] : {std::pair{"button", "goButton"},
                                         {"button", "addButton"},
                                         {"button", "tellButton"},
                                         {"button", "moreButton"},
                                         {"button", "nextButton"},
                                         {"field", "nameField"},
                                         {"field", "resultLabel"},
                                         {"label", "statusLabel"},
                                         {"label", "doneLabel"},
                                         {"list", "orderList"},
                                         {"text", "logText"},
                                         {"progress", "bar"},
                                         {"check", "openCheck"}})
            if (auto ok = ws.addWidget(".",
                                       QLatin1String(kind) == "text"       ? "QPlainTextEdit"
                                       : QLatin1String(kind) == "progress" ? "QProgressBar"
                                                                           : kind,
                                       name, {});
                !ok)
                qFatal("%s", qPrintable(ok.problem().text()));
        (void)ws.addWidget(".", "QSpinBox", "countSpin", {{"value", Json::number(7)}});
        (void)ws.addWidget(".", "QComboBox", "kindBox", {});
        for (const auto &[from, to] : {std::pair{"goButton", "go"},
                                       {"addButton", "add"},
                                       {"tellButton", "tellNow"},
                                       {"moreButton", "more"},
                                       {"nextButton", "next"}})
            if (auto ok = ws.connect({from, "clicked", {}, to, {}}); !ok)
                qFatal("%s", qPrintable(ok.problem().text()));
    });
    const QString cpp = folder + "/desk.cpp", h = folder + "/desk.h";
    replaceIn(cpp, "#include \"desk.h\"\n",
              QByteArray("#include \"desk.h\"\n") + headers + '\n' + one.before.toUtf8());
    replaceIn(cpp, "DeskBase(parent)\n{\n",
              "DeskBase(parent)\n{\n    kindBox->addItems({\"a\", \"b\", \"c\"});\n"
              "    orderList->addItems({\"tea\", \"rope\", \"oars\"});\n"
              "    connect(resultLabel, &QLineEdit::textChanged, this, [this](const QString &t) { story_ << "
              "t; });\n");
    replaceIn(cpp, "void Desk::go()\n{\n", "void Desk::go()\n{\n" + one.body.toUtf8());
    replaceIn(cpp, "void Desk::add()\n{\n",
              "void Desk::add()\n{\n    orderList->addItem(QString(\"more %1\").arg(++added_));\n");
    replaceIn(cpp, "void Desk::more()\n{\n", "void Desk::more()\n{\n    countSpin->stepUp();\n");
    replaceIn(cpp, "void Desk::next()\n{\n",
              "void Desk::next()\n{\n    kindBox->setCurrentIndex((kindBox->currentIndex() + 1) % "
              "kindBox->count());\n");
    replaceIn(cpp, "void Desk::tellNow()\n{\n", "void Desk::tellNow()\n{\n    tell();\n");
    const auto text = readFile(cpp);
    if (!text || !writeFile(cpp, *text + telling))
        qFatal("%s cannot be written", qPrintable(cpp));
    replaceIn(h, "_members.inc\"\n",
              "_members.inc\"\n\n    void tell();\n" + QByteArray(members) + "    " + one.members.toUtf8() +
                  '\n');
    auto opened = Workspace::open(w.place().file);
    if (!opened)
        qFatal("%s", qPrintable(opened.problem().text()));
    return std::move(*opened);
}

namespace
{

// What a person might do, seeded, with a question for what came of it after each round.
QString playFor(unsigned seed, int rounds, const HandlerCase &one)
{
    std::mt19937 random(seed);
    const auto below = [&](int n) { return int(random() % unsigned(n)); };
    QString play;
    for (int round = 1; round <= rounds; ++round) {
        for (int step = 0, n = 1 + below(5); step < n; ++step) {
            switch (below(8)) {
            case 0:
                play += QStringLiteral("nameField: press End\nnameField: type \"%1\"\n")
                            .arg(QChar('a' + below(26)));
                break;
            case 1:
                play += "moreButton: click\n";
                break;
            case 2:
                play += "openCheck: click\n";
                break;
            case 3:
                if (!one.alone)
                    play += "addButton: click\n";
                break;
            case 4:
                play += "nextButton: click\n";
                break;
            case 5:
                play += QStringLiteral("wait %1ms\n").arg(below(20));
                break;
            case 6:
                play += "nameField: press Ctrl+A\nnameField: press Delete\n";
                break;
            default:
                if (!one.single)
                    play += "goButton: click\n";
            }
        }
        play += "goButton: click\n";
        if (!one.single && below(2))
            play += QString(one.alone ? "" : "addButton: click\n") +
                    (below(3) ? "nameField: press End\nnameField: type \"z\"\ngoButton: click\n"
                              : "nameField: press Ctrl+A\nnameField: press Delete\ngoButton: click\n");
        play += QStringLiteral("tellButton: click\ndoneLabel: wait for text \"%1\" within 30s\n").arg(round);
    }
    return play;
}

// What it told, or what went wrong.
Result<QStringList> toldBy(Workspace &w, const QString &play)
{
    Builder builder(w.place());
    auto built = builder.build(w.project(), w.files());
    if (!built)
        return built.problem();
    if (!built->ok)
        return Problem{"it does not build: " +
                           (built->messages.isEmpty() ? QString() : built->messages.first().text),
                       {},
                       {}};
    const QString file = w.place().folder + "/judge.play";
    if (auto ok = writeFile(file, play.toUtf8()); !ok)
        return ok.problem();
    const Ran ran = verb({"run", w.place().folder, "--play", file});
    if (ran.code != 0)
        return Problem{"the play did not hold: " + QString::fromUtf8(ran.out + ran.err).right(400), {}, {}};
    QStringList told;
    for (const QByteArray &line : (ran.out + ran.err).split('\n'))
        if (const qsizetype at = line.indexOf("TOLD "); at >= 0)
            told << QString::fromUtf8(line.mid(at + 5));
    return told;
}

} // namespace

HandlerVerdict judgeHandler(const HandlerCase &one, Shape shape, unsigned seed, int rounds)
{
    HandlerVerdict v;
    const QTemporaryDir dir;
    Workspace w = deskFor(one, dir.path() + "/desk");
    auto move = planMove(MoveQuestion::of(w, "go", shape), false);
    if (!move) {
        v.wrong = "it was not planned: " + move.problem().text();
        return v;
    }
    for (const MoveRefusal &r : move->refused)
        v.reasons << QStringLiteral("%1: %2").arg(r.line).arg(r.reason);
    v.moved = move->refused.isEmpty();
    v.code = move->headerText + "\n\n" + move->newText;
    v.same = v.back = rounds == 0;
    if (!v.moved || rounds == 0)
        return v;
    const QString play = playFor(seed, rounds, one);
    // A busy machine now and then delivers what is typed differently to one and the same program: what it
    // says in any of three runs counts.
    QList<QStringList> before;
    for (int run = 0; run < 3; ++run) {
        const auto told = toldBy(w, play);
        if (!told) {
            v.wrong = "before: " + told.problem().text();
            return v;
        }
        before << *told;
        if (run == 1 && before[0] == before[1])
            break;
    }
    if (auto ok = w.apply(move->edit); !ok) {
        v.wrong = ok.problem().text();
        return v;
    }
    if (auto ok = w.save(); !ok) {
        v.wrong = ok.problem().text();
        return v;
    }
    const auto after = toldBy(w, play);
    if (!after) {
        v.wrong = "after: " + after.problem().text();
        return v;
    }
    if (before[0].size() != rounds)
        v.wrong = QStringLiteral("it told %1 times, not %2").arg(before[0].size()).arg(rounds);
    for (qsizetype i = 0; i < rounds && v.wrong.isEmpty() && !before.contains(*after); ++i)
        if (after->value(i) != before[0].value(i))
            v.wrong = QStringLiteral("round %1:\n      %2\n      %3")
                          .arg(i + 1)
                          .arg(before[0].value(i), after->value(i));
    v.same = v.wrong.isEmpty();
    if (!v.same)
        return v;
    auto back = planMove(MoveQuestion::of(w, "go", Shape::OneGo), false);
    if (!back || !back->refused.isEmpty()) {
        v.reasons << "not put back: " + (back ? back->refused.first().reason : back.problem().text());
        return v;
    }
    if (!w.apply(back->edit) || !w.save())
        return v;
    const auto again = toldBy(w, play);
    v.back = again && before.contains(*again);
    if (v.back)
        return v;
    v.reasons << "put back, it does something else" + (again ? QString() : ": " + again.problem().text());
    for (qsizetype i = 0; again && i < rounds; ++i)
        if (again->value(i) != before[0].value(i)) {
            v.reasons
                << QStringLiteral("round %1: %2 was %3").arg(i + 1).arg(again->value(i), before[0].value(i));
            break;
        }
    return v;
}

HandlerCase caseOf(const QString &file, const QString &name)
{
    for (const HandlerCase &one : handlerCases(file))
        if (one.name == name)
            return one;
    qFatal("there is no handler '%s' in %s", qPrintable(name), qPrintable(file));
}

HandlerCase bodyCase(const QString &body, const QString &members, const QString &before)
{
    HandlerCase one;
    one.body = body;
    one.members = members;
    one.before = before;
    return one;
}

Result<Move> Desk::plan(Shape shape, const QSet<int> &trusted, const QString &again)
{
    MoveQuestion q = MoveQuestion::of(workspace, "go", shape);
    q.trusted = trusted;
    q.again = again;
    return planMove(q, false);
}

} // namespace pipit::tests
