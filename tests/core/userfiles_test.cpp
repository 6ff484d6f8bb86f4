#include "core/base/files.h"
#include "core/userfiles/cpp_scan.h"
#include "core/userfiles/user_files.h"
#include "tests/support/registered.h"

#include <QRandomGenerator>
#include <QTemporaryDir>
#include <QTest>

using namespace pipit;

class UserFilesTest : public QObject
{
    Q_OBJECT
private slots:
    void whatDoesNotTouchIsMerged_data();
    void whatDoesNotTouchIsMerged();
    void mergingLosesNothing();
    void noClashBlocksForGood();
    void parametersAreReadFromAHead();
    void definitionsAreFound();
    void whatLooksLikeCodeIsNone();
    void halfWrittenCodeIsHarmless();
    void editsAndTheirUndo();
    void aDeletionComesBackOnlyWhereItWas();
    void aReplacedWordComesBackAtItsPlace();
    void savingNoticesOthers();
};

void UserFilesTest::definitionsAreFound()
{
    const QString text = "#include \"a.h\"\n\nnamespace {\nint helper(int a) { return a; }\n}\n\n"
                         "// Boards one.\n// Twice.\nvoid Desk::board()\n{\n    if (x) { y(); }\n}\n"
                         "QList<int> Desk::all(const QMap<int, int> &m) const\n{\n    return {};\n}\n"
                         "Desk::Desk(QWidget *p) : Base(p), a_{1}\n{\n}\n"
                         "template <class T> T twice(T t)\n{\n    return t + t;\n}\n"
                         "struct Plain { int x; };\nstatic int table[] = {1, 2};\n";
    QStringList names;
    for (const Definition &d : definitionsIn(text))
        names << (d.className.isEmpty() ? d.name : d.className + "::" + d.name) + ':' +
                     QString::number(d.line);
    QVERIFY2(names.contains("helper:4"), qPrintable(names.join(' ')));
    QVERIFY(names.contains("Desk::board:9"));
    QVERIFY(names.contains("Desk::all:13"));
    QVERIFY(names.contains("twice:20"));
    const auto board = definitionOf(text, "Desk", "board");
    QVERIFY(board);
    QVERIFY(text.mid(board->begin).startsWith("// Boards one."));
    QCOMPARE(text[board->bodyClose], QChar('}'));
    QCOMPARE(lineAt(text, board->bodyClose), 12);
}

void UserFilesTest::whatLooksLikeCodeIsNone()
{
    const QString text =
        "// void Desk::a() {}\n/* void Desk::b() {} */\nconst char *s = \"void Desk::c() {}\";\n"
        "const char *r = R\"x(void Desk::d() { )\" } )x\";\n#define M void Desk::e() {}\nchar q = '{';\n"
        "void Desk::f()\n{\n    auto s = \"}\"; // }\n    char c = '}';\n}\n";
    QStringList names;
    for (const Definition &d : definitionsIn(text))
        names << d.name;
    QCOMPARE(names, QStringList{"f"});
}

void UserFilesTest::halfWrittenCodeIsHarmless()
{
    const QString text = "void Desk::a()\n{\n    if (x) {\n}\nvoid Desk::b()\n{\n}\n/* open";
    for (qsizetype n = 0; n <= text.size(); ++n)
        (void)definitionsIn(text.left(n));
    (void)definitionsIn("R\"");
    (void)definitionsIn("\"\\");
    QVERIFY(definitionsIn("}}}}{{{{").isEmpty());
}

void UserFilesTest::editsAndTheirUndo()
{
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.path() + "/a.cpp", "one\ntwo\n"));
    UserFiles f(dir.path());
    FileEdit edit{"a.cpp", 8, {}, "three\n"};
    QVERIFY(f.apply(edit));
    QCOMPARE(*f.text("a.cpp"), QString("one\ntwo\nthree\n"));
    FileEdit again = edit;
    QVERIFY(f.apply(again));  // it is there already
    QVERIFY(f.revert(again)); // so there is nothing of its own to take back
    QCOMPARE(*f.text("a.cpp"), QString("one\ntwo\nthree\n"));
    f.setText("a.cpp", "zero\none\ntwo\nthree\n"); // moved, still verbatim
    QVERIFY(f.revert(edit));
    QCOMPARE(*f.text("a.cpp"), QString("zero\none\ntwo\n"));
    QVERIFY(f.revert(edit) && *f.revert(edit) == UserFiles::Revert::Stays);
    QCOMPARE(*f.text("a.cpp"), QString("zero\none\ntwo\n"));
    FileEdit replace{"a.cpp", 0, "not there", "x"};
    QVERIFY(!f.apply(replace));
    QCOMPARE(*f.text("a.cpp"), QString("zero\none\ntwo\n"));
}

// Taking back a deletion once went by its old place, whatever stood there by then.
void UserFilesTest::aDeletionComesBackOnlyWhereItWas()
{
    const QString text = "void one()\n{\n}\n\nvoid two()\n{\n}\n\nvoid three()\n{\n}\n";
    const QString gone = "void two()\n{\n}\n\n";
    const auto deleted = [&](UserFiles &f, FileEdit &edit) {
        f.setText("a.cpp", text);
        edit = {"a.cpp", text.indexOf(gone), gone, {}};
        return bool(f.apply(edit));
    };
    QTemporaryDir dir;
    UserFiles f(dir.path());
    FileEdit edit;
    QVERIFY(deleted(f, edit));
    QVERIFY(f.revert(edit));
    QCOMPARE(*f.text("a.cpp"), text);

    QVERIFY(deleted(f, edit));
    const QString lines = QString("// a line above\n").repeated(9);
    f.setText("a.cpp", lines + *f.text("a.cpp")); // moved, but what stood around it still does
    QVERIFY(f.revert(edit));
    QCOMPARE(*f.text("a.cpp"), lines + text);

    QVERIFY(deleted(f, edit));
    const QString typed = f.text("a.cpp")->replace("void three()", "int three()");
    f.setText("a.cpp", typed);
    QVERIFY(*f.revert(edit) == UserFiles::Revert::Done); // what stood before it still does
    QCOMPARE(*f.text("a.cpp"), QString(text).replace("void three()", "int three()"));

    QVERIFY(deleted(f, edit));
    const QString anew =
        f.text("a.cpp")->replace("void three()", "int three()").replace("void one()", "int one()");
    f.setText("a.cpp", anew);
    QVERIFY(*f.revert(edit) == UserFiles::Revert::StaysOut);
    QCOMPARE(*f.text("a.cpp"), anew);

    f.setText("a.cpp", "all");
    FileEdit whole{"a.cpp", 0, "all", {}};
    QVERIFY(f.apply(whole));
    f.setText("a.cpp", "another");
    QVERIFY(*f.revert(whole) == UserFiles::Revert::StaysOut);
    f.setText("a.cpp", {});
    QVERIFY(f.revert(whole));
    QCOMPARE(*f.text("a.cpp"), QString("all"));
}

// Of several like it, the one with the same neighbours is meant.
void UserFilesTest::aReplacedWordComesBackAtItsPlace()
{
    QTemporaryDir dir;
    UserFiles f(dir.path());
    f.setText("a.cpp", "x(b1);\ny(go);\n");
    FileEdit edit{"a.cpp", 2, "b1", "go"};
    QVERIFY(f.apply(edit));
    f.setText("a.cpp", "// go\n" + *f.text("a.cpp"));
    QVERIFY(f.revert(edit));
    QCOMPARE(*f.text("a.cpp"), QString("// go\nx(b1);\ny(go);\n"));
    QVERIFY(f.apply(edit));
    QCOMPARE(*f.text("a.cpp"), QString("// go\nx(go);\ny(go);\n"));
}

void UserFilesTest::savingNoticesOthers()
{
    QTemporaryDir dir;
    const QString path = dir.path() + "/a.cpp";
    QVERIFY(writeFile(path, "mine"));
    UserFiles f(dir.path());
    QCOMPARE(*f.text("a.cpp"), QString("mine"));
    QVERIFY(writeFile(path, "theirs"));
    QCOMPARE(f.refresh().changed, QStringList{"a.cpp"});
    QCOMPARE(*f.text("a.cpp"), QString("theirs")); // nothing typed: read again
    f.setText("a.cpp", "typed");
    QVERIFY(writeFile(path, "theirs again"));
    QVERIFY(!f.save("a.cpp"));
    QCOMPARE(*readFile(path), QByteArray("theirs again"));
    QCOMPARE(*f.text("a.cpp"), QString("typed"));
    // A file that was deleted once read as unchanged.
    QVERIFY(writeFile(dir.path() + "/gone.cpp", "kept"));
    QCOMPARE(*f.text("gone.cpp"), QString("kept"));
    QVERIFY(QFile::remove(dir.path() + "/gone.cpp"));
    QCOMPARE(f.refresh().changed, QStringList{"gone.cpp"}); // a.cpp was seen when it could not be saved
    QCOMPARE(f.clashing(), QStringList{"a.cpp"});
    QVERIFY(f.isGone("gone.cpp") && f.dirty("gone.cpp"));
    QVERIFY(f.refresh().changed.isEmpty()); // told once
    QVERIFY(f.save("gone.cpp") && !f.dirty("gone.cpp"));
    QCOMPARE(*readFile(dir.path() + "/gone.cpp"), QByteArray("kept"));
    QVERIFY(QFile::remove(dir.path() + "/gone.cpp"));
    (void)f.refresh();
    QVERIFY(writeFile(dir.path() + "/gone.cpp", "kept")); // as editors do that write it anew
    (void)f.refresh();
    QVERIFY(!f.isGone("gone.cpp") && !f.dirty("gone.cpp"));
    QVERIFY(writeFile(dir.path() + "/b.cpp", "\xff\xfe"));
    QVERIFY(!f.text("b.cpp"));
}

void UserFilesTest::parametersAreReadFromAHead()
{
    const auto types = [](const char *code) {
        const auto all = definitionsIn(QString::fromLatin1(code) + "\n{\n}\n");
        return all.isEmpty() ? QStringList{"nothing"} : parameterTypes(all.first());
    };
    QCOMPARE(types("void Desk::go()"), QStringList());
    QCOMPARE(types("void Desk::go(int value)"), QStringList{"int"});
    QCOMPARE(types("void Desk::go(const QString& text, bool on)"), (QStringList{"const QString &", "bool"}));
    QCOMPARE(types("void Desk::go(QListWidgetItem *item)"), QStringList{"QListWidgetItem *"});
    QCOMPARE(types("void Desk::go(QMap<int, QString> map)"), (QStringList{"QMap<int, QString>"}));
    QVERIFY(declaresFunction("class D { void go(int); };", "go"));
    QVERIFY(!declaresFunction("class D { /* go(int) */ void gone(int); };", "go"));
}

void UserFilesTest::whatDoesNotTouchIsMerged_data()
{
    QTest::addColumn<QString>("base");
    QTest::addColumn<QString>("mine");
    QTest::addColumn<QString>("theirs");
    QTest::addColumn<QString>("both"); // null: a clash
    QTest::newRow("apart") << "a\nb\nc\nd\n"
                           << "a\nB\nc\nd\n"
                           << "a\nb\nc\nD\n"
                           << "a\nB\nc\nD\n";
    QTest::newRow("same change") << "a\nb\n"
                                 << "a\nx\n"
                                 << "a\nx\n"
                                 << "a\nx\n";
    QTest::newRow("both at the end") << "a\n"
                                     << "a\n\nmine\n"
                                     << "a\n\ntheirs\n"
                                     << "a\n\ntheirs\n\nmine\n";
    QTest::newRow("removed and kept") << "a\nb\nc\n"
                                      << "a\nc\n"
                                      << "a\nb\nc\nd\n"
                                      << "a\nc\nd\n";
    QTest::newRow("only theirs") << "a\n"
                                 << "a\n"
                                 << "b\n"
                                 << "b\n";
    QTest::newRow("no line end") << "a\nb"
                                 << "x\na\nb"
                                 << "a\nb\nc"
                                 << "x\na\nb\nc";
    QTest::newRow("neighbours") << "a\nb\n"
                                << "a\nB\nmine\n"
                                << "A\nb\n"
                                << "A\nB\nmine\n";
    QTest::newRow("the same line") << "a\nb\nc\n"
                                   << "a\nB\nc\n"
                                   << "a\nbb\nc\n"
                                   << QString();
    QTest::newRow("removed and changed") << "a\nb\nc\n"
                                         << "a\nc\n"
                                         << "a\nbb\nc\n"
                                         << QString();
}

void UserFilesTest::whatDoesNotTouchIsMerged()
{
    QFETCH(QString, base);
    QFETCH(QString, mine);
    QFETCH(QString, theirs);
    QFETCH(QString, both);
    const Merge m = merge(base, mine, theirs);
    QCOMPARE(m.clean(), !both.isNull());
    if (m.clean()) {
        QCOMPARE(m.text(), both);
        return;
    }
    QCOMPARE(m.text({true}), mine);
    QCOMPARE(m.text({false}), theirs);
}

// Whatever the three are, no line that either side has is in neither the merge nor a clash.
void UserFilesTest::mergingLosesNothing()
{
    QRandomGenerator random(7);
    for (int round = 0; round < 400; ++round) {
        QStringList base, mine, theirs;
        for (int i = random.bounded(0, 12); i > 0; --i)
            base << QStringLiteral("line %1\n").arg(random.bounded(6));
        const auto changed = [&](const QString &by) {
            QStringList lines = base;
            for (int n = random.bounded(0, 4); n > 0; --n) {
                const int at = int(random.bounded(int(lines.size()) + 1));
                if (random.bounded(2) || at == lines.size())
                    lines.insert(at, by + QString::number(random.bounded(100)) + '\n');
                else
                    lines.removeAt(at);
            }
            return lines;
        };
        mine = changed("mine ");
        theirs = changed("theirs ");
        const Merge m = merge(base.join(QString()), mine.join(QString()), theirs.join(QString()));
        QList<bool> all(m.clashes(), true), none(m.clashes(), false);
        const QString kept = m.text(all) + m.text(none);
        for (const QString &line : mine + theirs)
            if (!base.contains(line))
                QVERIFY2(kept.contains(line), qPrintable(line));
        QCOMPARE(merge(base.join(QString()), mine.join(QString()), base.join(QString())).text(),
                 mine.join(QString()));
    }
}

// A stub that is not saved once ended in a dead end when the file was written outside.
void UserFilesTest::noClashBlocksForGood()
{
    QTemporaryDir dir;
    const QString path = dir.path() + "/a.cpp";
    QVERIFY(writeFile(path, "one\ntwo\nthree\n"));
    UserFiles f(dir.path());
    f.setText("a.cpp", *f.text("a.cpp") + "\nvoid stub()\n{\n}\n");
    QVERIFY(writeFile(path, "ONE\ntwo\nthree\n"));
    QVERIFY(f.save("a.cpp")); // both, though nobody looked before
    QCOMPARE(*readFile(path), QByteArray("ONE\ntwo\nthree\n\nvoid stub()\n{\n}\n"));
    f.setText("a.cpp", f.text("a.cpp")->replace("two", "mine"));
    QVERIFY(writeFile(path, readFile(path)->replace("two", "theirs")));
    QVERIFY(!f.save("a.cpp"));
    QCOMPARE(f.clashOf("a.cpp")->clashes(), 1);
    QVERIFY(f.text("a.cpp")->contains("mine"));
    QVERIFY(f.settle("a.cpp", {false}));
    QVERIFY(f.text("a.cpp")->contains("theirs") && !f.text("a.cpp")->contains("mine"));
    QVERIFY(f.save("a.cpp") && f.clashing().isEmpty());
}

PIPIT_TEST(UserFilesTest)
#include "userfiles_test.moc"
