// The tokens: contrast in both themes.
#include "app/look/tokens.h"
#include "tests/support/registered.h"

#include <QTest>

using namespace pipit::app;

class LookTest : public QObject
{
    Q_OBJECT
private slots:
    void textHasContrast();
    void graphicsHaveContrast();
    void fontsAreNotTooSmall();
};

void LookTest::textHasContrast()
{
    for (const Tokens *t : {&Tokens::light(), &Tokens::dimmed()}) {
        for (const QColor &ground : {t->paper, t->surface, t->raised})
            for (const QColor &text : {t->ink, t->ink2, t->vermilion})
                QVERIFY2(contrast(text, ground) >= 4.5,
                         qPrintable(text.name() + " on " + ground.name() + ": " +
                                    QString::number(contrast(text, ground))));
        QVERIFY(contrast(t->ink, t->buff) >= 4.5); // only ink is written on it
        QVERIFY(contrast(t->paper, t->ink) >= 4.5);
    }
}

void LookTest::graphicsHaveContrast()
{
    for (const Tokens *t : {&Tokens::light(), &Tokens::dimmed()})
        for (const QColor &ground : {t->paper, t->surface})
            for (const QColor &mark : {t->slate, t->ochre, t->teal, t->vermilion, t->edge})
                QVERIFY2(contrast(mark, ground) >= 3.0, qPrintable(mark.name() + " on " + ground.name()));
}

void LookTest::fontsAreNotTooSmall()
{
    loadFonts();
    for (const QFont &f : {textFont(), smallFont(), titleFont(), codeFont()})
        QVERIFY(f.pixelSize() >= 11);
    QCOMPARE(QFontInfo(textFont()).family(), QString("Inter"));
}

PIPIT_TEST(LookTest)
#include "look_test.moc"
