// What a masked recording holds of what somebody entered: nothing, in none of its files.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QDirIterator>

using namespace pipit;
using namespace pipit::tests;

class MaskTest : public QObject
{
    Q_OBJECT
private:
    // Every byte of a recording of target-masked.
    static QByteArray recorded(const QStringList &options);

private slots:
    void maskedNothingIsHeld();
    void notMaskedNoPasswordIsHeld();
};

namespace
{

const QByteArray secret = "gannet-tern-petrel-42", number = "864213", length = "21 characters";

}

QByteArray MaskTest::recorded(const QStringList &options)
{
    QTemporaryDir dir;
    const QString out = dir.path() + "/recording";
    const Ran ran =
        verb(QStringList{"record"} + options + QStringList{"--out", out, "--", targetProgram("masked")});
    QByteArray all;
    if (ran.code != 0)
        return all;
    QDirIterator it(out, QDir::Files | QDir::Hidden, QDirIterator::Subdirectories);
    while (it.hasNext())
        all += *readFile(it.next());
    return all;
}

// Numbers and the lengths of texts, passwords' too, were in the recording; so was a sum of each text by which
// it could be guessed.
void MaskTest::maskedNothingIsHeld()
{
    const QByteArray all = recorded({"--mask"});
    QVERIFY(all.contains("password")); // the field's name: it is the right program, and recorded
    for (const QByteArray &what :
         {secret, secret.left(8), secret.mid(6, 6), number, length, QByteArray("characters")})
        QVERIFY2(!all.contains(what), what);
    // As UTF-16, too.
    const QString wide = QString::fromLatin1(secret);
    QVERIFY(!all.contains(QByteArray(reinterpret_cast<const char *>(wide.utf16()), wide.size() * 2)));
    QVERIFY(!all.contains(QByteArray::number(qHash(wide) | 1)));
}

void MaskTest::notMaskedNoPasswordIsHeld()
{
    const QByteArray all = recorded({});
    QVERIFY(all.contains(number) && all.contains(length)); // what the other test looks for can be there
    QVERIFY(!all.contains(QByteArray::number(qHash(QString::fromLatin1(secret)) | 1)));
    // Of a field that hides what is typed not even the length.
    QVERIFY(!all.contains("63 characters"));
}

PIPIT_TEST(MaskTest)
#include "mask_test.moc"
