// Which function an address lies in, against what the library for debug information finds by looking at every
// symbol.
#include "core/trace/places_module.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QElapsedTimer>
#include <QRandomGenerator>

#include <fcntl.h>
#include <unistd.h>

using namespace pipit;
using namespace pipit::tests;

class SymbolsTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void theyAreThoseThatTheLibraryFinds_data();
    void theyAreThoseThatTheLibraryFinds();
};

void SymbolsTest::theyAreThoseThatTheLibraryFinds_data()
{
    QTest::addColumn<QString>("file");
    QTest::newRow("a program with debug information") << targetProgram("waits");
    QTest::newRow("a stripped program") << targetProgram("wired-O2-stripped");
    for (const char *library : {"libQt6Core.so.6", "libQt6Widgets.so.6", "libc.so.6"})
        QTest::newRow(library) << QStringLiteral("/usr/lib/x86_64-linux-gnu/") + library;
}

void SymbolsTest::theyAreThoseThatTheLibraryFinds()
{
    QFETCH(QString, file);
    static char *debugPath = nullptr;
    static const Dwfl_Callbacks callbacks = {dwfl_linux_proc_find_elf, dwfl_standard_find_debuginfo,
                                             dwfl_offline_section_address, &debugPath};
    unsetenv("DEBUGINFOD_URLS");
    Dwfl *dwfl = dwfl_begin(&callbacks);
    QVERIFY(dwfl);
    dwfl_report_begin(dwfl);
    Dwfl_Module *module = dwfl_report_elf(dwfl, "module", file.toUtf8().constData(), -1, 0, false);
    dwfl_report_end(dwfl, nullptr, nullptr);
    QVERIFY(module);
    const Symbols symbols(module);
    GElf_Addr low = 0, high = 0;
    dwfl_module_info(module, nullptr, &low, &high, nullptr, nullptr, nullptr, nullptr);
    QVERIFY(high > low);
    QRandomGenerator random(7);
    int found = 0, told = 0, wrong = 0;
    QStringList mistakes;
    std::vector<std::uint64_t> addresses;
    for (int i = 0; i < 1500; ++i)
        addresses.push_back(low + random.bounded(quint64(high - low)));
    for (const std::uint64_t address : addresses) {
        GElf_Off within = 0;
        GElf_Sym symbol;
        const char *wanted =
            dwfl_module_addrinfo(module, address, &within, &symbol, nullptr, nullptr, nullptr);
        const Symbols::One *has = symbols.holding(address);
        found += wanted != nullptr;
        told += has != nullptr;
        // Of several at one place either may be named.
        if (bool(wanted) == bool(has) && (!has || has->at == address - within))
            continue;
        ++wrong;
        mistakes << QStringLiteral("%1: %2, not %3")
                        .arg(address, 0, 16)
                        .arg(has ? has->name : "none", wanted ? wanted : "none");
    }
    dwfl_end(dwfl);
    QVERIFY2(wrong == 0,
             qPrintable(QStringLiteral("%1 wrong, %2 of %3 found\n").arg(wrong).arg(told).arg(found) +
                        mistakes.mid(0, 12).join('\n')));
    QVERIFY(found >= 20 || file.contains("stripped"));
}

PIPIT_TEST(SymbolsTest)
#include "symbols_test.moc"
