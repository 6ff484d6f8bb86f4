#include "core/runner/python_frames.h"

#include <QFile>
#include <QHash>

#include <cstring>
#include <fcntl.h>
#include <gelf.h>
#include <optional>
#include <sys/uio.h>
#include <unistd.h>

namespace pipit
{

namespace
{

// CPython 3.11 on x86-64.
namespace layout
{
constexpr std::uint64_t interpreters = 40;                           // _PyRuntimeState.interpreters.head
constexpr std::uint64_t lastHolder = 368, locked = 376;              // _PyRuntimeState.ceval.gil
constexpr std::uint64_t lockBegin = 360, lockEnd = lockBegin + 208;  // all of ceval.gil
constexpr std::uint64_t nextInterpreter = 0, threads = 16;           // PyInterpreterState
constexpr std::uint64_t nextThread = 8, cframe = 56, nativeId = 160; // PyThreadState
constexpr std::uint64_t currentFrame = 8;                            // _PyCFrame
constexpr std::uint64_t code = 32, previous = 48, instruction = 56, entry = 68, frameSize = 80;
constexpr std::uint64_t firstTraceable = 168, firstLine = 72, fileName = 112, qualifiedName = 128,
                        lines = 136, bytecode = 184; // PyCodeObject
constexpr std::uint64_t size = 16;                   // PyVarObject.ob_size, PyASCIIObject.length
constexpr std::uint64_t bytes = 32;                  // PyBytesObject.ob_sval
constexpr std::uint64_t textState = 32, asciiText = 48,
                        otherText = 72; // PyASCIIObject, PyCompactUnicodeObject
constexpr std::uint32_t version = 0x030b;
} // namespace layout

// "/usr/lib/x86_64-linux-gnu/libpython3.11.so.1.0" → "3.11"; empty: no interpreter's name.
QString versionInName(const QString &path)
{
    const QString name = path.section('/', -1);
    const qsizetype at = name.startsWith("python3.") ? 6 : name.startsWith("libpython3.") ? 9 : -1;
    if (at < 0)
        return {};
    qsizetype end = at + 2;
    while (end < name.size() && name[end].isDigit())
        ++end;
    return end > at + 2 ? name.mid(at, end - at) : QString();
}

} // namespace

struct PythonFrames::Private {
    struct Symbols {
        std::uint64_t runtime = 0, version = 0, eval = 0, evalSize = 0;
        std::uint64_t firstLoad = 0; // where the file's first page would be, as its symbols count
    };
    struct Code {                 // what is kept of one code object while its name stays
        std::uint64_t names[3]{}; // its file's, its own and its lines' addresses
        QString function, file;
        QByteArray lines;
        int first = 0;
    };

    pid_t pid;
    QString module, version;
    Symbols symbols;
    std::uint64_t base = 0; // what is added to its symbols
    bool known = false;
    QHash<std::uint64_t, Code> codes;

    static Symbols symbolsOf(const QString &path);
    void find();
    bool read(std::uint64_t at, void *to, std::size_t size) const;
    template <class T> T word(std::uint64_t at) const
    {
        T value{};
        read(at, &value, sizeof value);
        return value;
    }
    QString text(std::uint64_t object) const;
    QByteArray bytes(std::uint64_t object) const;
    std::uint64_t threadState(pid_t tid) const;
    const Code &codeAt(std::uint64_t address, const char *object);
};

PythonFrames::Private::Symbols PythonFrames::Private::symbolsOf(const QString &path)
{
    Symbols found;
    const int fd = open(QFile::encodeName(path).constData(), O_RDONLY | O_CLOEXEC);
    if (fd < 0)
        return found;
    elf_version(EV_CURRENT);
    Elf *elf = elf_begin(fd, ELF_C_READ_MMAP, nullptr);
    std::size_t headers = 0;
    elf_getphdrnum(elf, &headers);
    for (std::size_t i = 0; i < headers; ++i)
        if (GElf_Phdr ph; gelf_getphdr(elf, int(i), &ph) && ph.p_type == PT_LOAD) {
            found.firstLoad = ph.p_vaddr - ph.p_offset;
            break;
        }
    for (Elf_Scn *section = nullptr; elf && (section = elf_nextscn(elf, section));) {
        GElf_Shdr sh;
        if (!gelf_getshdr(section, &sh) || sh.sh_type != SHT_DYNSYM || sh.sh_entsize == 0)
            continue;
        Elf_Data *data = elf_getdata(section, nullptr);
        for (std::size_t i = 0; data && i < sh.sh_size / sh.sh_entsize; ++i) {
            GElf_Sym sym;
            const char *name =
                gelf_getsym(data, int(i), &sym) ? elf_strptr(elf, sh.sh_link, sym.st_name) : nullptr;
            if (!name)
                continue;
            if (std::strcmp(name, "_PyRuntime") == 0)
                found.runtime = sym.st_value;
            else if (std::strcmp(name, "Py_Version") == 0)
                found.version = sym.st_value;
            else if (std::strcmp(name, "_PyEval_EvalFrameDefault") == 0)
                found.eval = sym.st_value, found.evalSize = sym.st_size;
        }
    }
    elf_end(elf);
    close(fd);
    return found;
}

bool PythonFrames::Private::read(std::uint64_t at, void *to, std::size_t size) const
{
    iovec mine{to, size}, theirs{reinterpret_cast<void *>(at), size};
    return at > 4096 && process_vm_readv(pid, &mine, 1, &theirs, 1, 0) == ssize_t(size);
}

void PythonFrames::Private::find()
{
    QFile maps(QStringLiteral("/proc/%1/maps").arg(pid));
    if (!maps.open(QIODevice::ReadOnly))
        return;
    QStringList seen;
    for (const QByteArray &line : maps.readAll().split('\n')) {
        const qsizetype at = line.indexOf('/');
        const QString path = at < 0 ? QString() : QFile::decodeName(line.mid(at));
        const QString named = versionInName(path);
        if (named.isEmpty() || seen.contains(path))
            continue; // only its first mapping, where the file begins
        seen << path;
        const Symbols s = symbolsOf(path);
        if (!s.runtime)
            continue; // a program that is linked to a library with the interpreter
        module = path;
        version = named;
        symbols = s;
        const QList<QByteArray> words = line.left(at).simplified().split(' ');
        base = words[0].split('-')[0].toULongLong(nullptr, 16) - words.value(2).toULongLong(nullptr, 16) -
               s.firstLoad;
        if (s.version) {
            const auto is = word<std::uint64_t>(base + s.version);
            known = is >> 16 == layout::version;
            version = QStringLiteral("%1.%2").arg(is >> 24 & 0xff).arg(is >> 16 & 0xff);
        }
        return;
    }
}

QByteArray PythonFrames::Private::bytes(std::uint64_t object) const
{
    constexpr std::uint64_t most = 1 << 20;
    QByteArray all(qsizetype(std::min(most, word<std::uint64_t>(object + layout::size))), Qt::Uninitialized);
    return read(object + layout::bytes, all.data(), std::size_t(all.size())) ? all : QByteArray();
}

QString PythonFrames::Private::text(std::uint64_t object) const
{
    constexpr std::uint64_t most = 4096;
    const auto length = qsizetype(std::min(most, word<std::uint64_t>(object + layout::size)));
    const auto state = word<std::uint32_t>(object + layout::textState);
    const int kind = int(state >> 2 & 7);
    const bool compact = state >> 5 & 1, ascii = state >> 6 & 1;
    if (!compact || (kind != 1 && kind != 2 && kind != 4))
        return {};
    QByteArray raw(length * kind, Qt::Uninitialized);
    if (!read(object + (ascii ? layout::asciiText : layout::otherText), raw.data(), std::size_t(raw.size())))
        return {};
    if (kind == 1)
        return QString::fromLatin1(raw);
    if (kind == 2)
        return QString::fromUtf16(reinterpret_cast<const char16_t *>(raw.constData()), length);
    return QString::fromUcs4(reinterpret_cast<const char32_t *>(raw.constData()), length);
}

std::uint64_t PythonFrames::Private::threadState(pid_t tid) const
{
    constexpr int most = 4096; // of threads: a list that is read while it changes may lead anywhere
    int seen = 0;
    for (auto interpreter = word<std::uint64_t>(base + symbols.runtime + layout::interpreters);
         interpreter && seen < most; interpreter = word<std::uint64_t>(interpreter + layout::nextInterpreter))
        for (auto thread = word<std::uint64_t>(interpreter + layout::threads); thread && seen++ < most;
             thread = word<std::uint64_t>(thread + layout::nextThread))
            if (word<std::uint64_t>(thread + layout::nativeId) == std::uint64_t(tid))
                return thread;
    return 0;
}

const PythonFrames::Private::Code &PythonFrames::Private::codeAt(std::uint64_t address, const char *object)
{
    const auto at = [&](std::uint64_t offset) {
        std::uint64_t value = 0;
        std::memcpy(&value, object + offset, sizeof value);
        return value;
    };
    const std::uint64_t names[3]{at(layout::fileName), at(layout::qualifiedName), at(layout::lines)};
    Code &code = codes[address];
    if (std::memcmp(code.names, names, sizeof names) == 0)
        return code;
    std::memcpy(code.names, names, sizeof names);
    std::memcpy(&code.first, object + layout::firstLine, sizeof code.first);
    code.file = text(names[0]);
    code.function = text(names[1]);
    code.lines = bytes(names[2]);
    return code;
}

PythonFrames::PythonFrames(pid_t pid) : d(std::make_unique<Private>())
{
    d->pid = pid;
    d->find();
}

PythonFrames::~PythonFrames() = default;

bool PythonFrames::there() const
{
    return !d->module.isEmpty();
}

QString PythonFrames::unknown() const
{
    return there() && !d->known ? QStringLiteral("the memory layout of Python %1 is unknown").arg(d->version)
                                : QString();
}

bool PythonFrames::runsCode(const QString &module, std::uint64_t offset) const
{
    return there() && module == d->module && offset >= d->symbols.eval &&
           offset < d->symbols.eval + d->symbols.evalSize;
}

bool PythonFrames::isInterpretersLock(std::uint64_t word) const
{
    const std::uint64_t runtime = d->base + d->symbols.runtime;
    return d->known && word >= runtime + layout::lockBegin && word < runtime + layout::lockEnd;
}

pid_t PythonFrames::interpretersLockHolder() const
{
    const std::uint64_t runtime = d->base + d->symbols.runtime;
    if (!d->known || d->word<std::int32_t>(runtime + layout::locked) != 1)
        return 0;
    const auto holder = d->word<std::uint64_t>(runtime + layout::lastHolder);
    return holder ? pid_t(d->word<std::uint64_t>(holder + layout::nativeId)) : 0;
}

std::vector<PythonFrame> PythonFrames::of(pid_t tid)
{
    std::vector<PythonFrame> found;
    const std::uint64_t thread = d->known ? d->threadState(tid) : 0;
    const auto cframe = thread ? d->word<std::uint64_t>(thread + layout::cframe) : 0;
    auto at = cframe ? d->word<std::uint64_t>(cframe + layout::currentFrame) : 0;
    while (at && found.size() < mostFrames) {
        char frame[layout::frameSize], object[layout::bytecode];
        if (!d->read(at, frame, sizeof frame))
            break;
        const auto pointer = [&](std::uint64_t offset) {
            std::uint64_t value = 0;
            std::memcpy(&value, frame + offset, sizeof value);
            return value;
        };
        const std::uint64_t code = pointer(layout::code), from = code + layout::bytecode;
        if (!d->read(code, object, sizeof object))
            break;
        const std::int64_t ran = std::int64_t(pointer(layout::instruction) - from);
        std::int32_t first = 0; // in units of two bytes; before it the function is being entered
        std::memcpy(&first, object + layout::firstTraceable, sizeof first);
        const Private::Code &c = d->codeAt(code, object);
        const int line = ran < std::int64_t(first) * 2 ? c.first : pythonLineAt(c.lines, c.first, ran);
        found.push_back({c.function, c.file, line, frame[layout::entry] != 0});
        at = pointer(layout::previous);
    }
    return found;
}

int pythonLineAt(const QByteArray &table, int first, std::int64_t at)
{
    qsizetype i = 0;
    const auto number = [&] { // six bits at a time, the lowest first
        unsigned value = 0;
        for (unsigned shift = 0; i < table.size() && shift < 32; shift += 6) {
            const auto byte = std::uint8_t(table[i++]);
            value |= unsigned(byte & 63) << shift;
            if (!(byte & 64))
                break;
        }
        return value;
    };
    const auto signedNumber = [&] {
        const unsigned value = number();
        return value & 1 ? -int(value >> 1) : int(value >> 1);
    };
    std::int64_t begin = 0;
    int line = first;
    while (i < table.size()) {
        const auto head = std::uint8_t(table[i++]);
        const int kind = head >> 3 & 15;
        const std::int64_t end = begin + 2 * ((head & 7) + 1);
        if (kind == 13 || kind == 14)
            line += signedNumber();
        else if (kind >= 10 && kind <= 12)
            line += kind - 10;
        if (at >= begin && at < end)
            return kind == 15 ? 0 : line;
        begin = end;
        while (i < table.size() && !(std::uint8_t(table[i]) & 0x80))
            ++i; // columns
    }
    return 0;
}

} // namespace pipit
