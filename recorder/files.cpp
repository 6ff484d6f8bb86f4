// Files that the program opens to write, opens to read where a person keeps files, renames or removes: each
// told in the span in which it was done.
//
// Told is what QtCore, the libraries of C++ and Python, and the program's own code ask the system for: what
// drivers and the desktop's libraries keep for themselves is not. Opened to write is not yet written to.
//
// Threads: any. May be called in a signal handler: nothing is told then that would meet a half-written
// record.
#include "link/facts.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <atomic>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <string_view>
#include <unistd.h>
#include <utility>

namespace pipit::recorder
{

namespace
{

// Of a longer path only the beginning is told: a signal handler may have a small stack.
constexpr std::size_t longest = 1024;

// Each with a slash at the end; empty: there is none. No objects: files are opened until the very end.
char settings[longest], cache[longest], temporary[longest], home[longest];
void *realOf[StubCount];

void setFolder(char *to, const char *variable, const char *otherwise)
{
    const char *value = getenv(variable);
    const int size = std::snprintf(to, longest, "%s/", value && *value == '/' ? value : otherwise);
    if (size <= 1 || size >= int(longest))
        *to = 0;
}

bool begins(std::string_view text, std::string_view with)
{
    return !with.empty() && text.substr(0, with.size()) == with;
}

// Text of a certain size, since memory may not be asked for in a signal handler.
struct Text {
    char bytes[longest + 64];
    std::size_t size = 0;
    void add(std::string_view more)
    {
        more = more.substr(0, sizeof bytes - size);
        for (const char c : more)
            bytes[size++] = c == '\t' || c == '\n' ? ' ' : c;
    }
    void next() { size < sizeof bytes ? void(bytes[size++] = '\t') : void(); }
    std::string_view view() const { return {bytes, size}; }
};

struct Place {
    Text path; // from the root
    char working[longest];
    explicit Place(const char *given)
    {
        if (!getcwd(working, sizeof working - 1) || working[1] == 0)
            working[0] = 0;
        else
            std::strcat(working, "/");
        if (*given != '/')
            path.add(working);
        path.add(given);
        if (home[0] && std::strcmp(working, home) == 0)
            working[0] = 0;
    }
    // "settings folder", a tab, and where there.
    void addTo(Text &text) const
    {
        const std::pair<const char *, const char *> classes[] = {{"settings folder", settings},
                                                                 {"cache", cache},
                                                                 {"working folder", working},
                                                                 {"temporary folder", temporary},
                                                                 {"home folder", home}};
        const std::string_view is = path.view();
        const char *name = "elsewhere";
        std::size_t cut = 0;
        for (const auto &[called, folder] : classes) // the innermost
            if (begins(is, folder) && std::strlen(folder) > cut) {
                name = called;
                cut = std::strlen(folder);
            }
        text.add(name);
        text.next();
        if (textsMayBeTold)
            text.add(is.substr(cut));
    }
};

bool isSystems(std::string_view path)
{
    for (const char *folder : {"/dev/", "/proc/", "/sys/", "/run/", "/memfd:"})
        if (begins(path, folder))
            return true;
    return false;
}

// Where nobody keeps files that a program is asked to read.
bool isInstalled(std::string_view path)
{
    for (const char *folder : {"/usr/", "/etc/", "/lib", "/var/", "/bin/"})
        if (begins(path, folder))
            return true;
    return begins(path, cache) || path.find("/.") != std::string_view::npos;
}

// Whose files are told.
bool asksForTheProgram(std::uint64_t place)
{
    pipit_module module;
    if (!pipit_module_at(place, &module))
        return false;
    const char *name = pipit_file_name(module.file);
    for (const char *library :
         {"libQt6Core.so", "libQt6Gui.so", "libQt6Network.so", "libstdc++.so", "libpython3"})
        if (std::strncmp(name, library, std::strlen(library)) == 0)
            return true;
    return !pipit_is_toolkit(module.file) && std::strncmp(module.file, "/usr/lib/", 9) != 0 &&
           std::strncmp(module.file, "/lib/", 5) != 0;
}

constexpr unsigned mostInASecond = 500;
bool isTooMuch()
{
    static std::atomic<std::uint64_t> second{0};
    static std::atomic<unsigned> count{0};
    const std::uint64_t now = std::uint64_t(link::monotonic()) / 1'000'000'000;
    if (second.exchange(now, std::memory_order_relaxed) != now)
        count.store(0, std::memory_order_relaxed);
    return count.fetch_add(1, std::memory_order_relaxed) >= mostInASecond;
}

enum class Done { Read, Write, Rename, Remove };

void tell(Done what, const char *path, std::uint64_t place)
{
    const int error = errno;
    ThreadLog *log = path && *path && isRecording() ? ThreadLog::existing() : nullptr;
    if (log && !log->isWriting() && asksForTheProgram(place)) {
        const Place is(path);
        if (!isSystems(is.path.view()) && (what != Done::Read || !isInstalled(is.path.view())) &&
            !isTooMuch()) {
            constexpr const char *words[] = {"read", "write", "rename", "remove"};
            Text text;
            text.add(words[int(what)]);
            text.next();
            is.addTo(text);
            log->text(link::Kind::Fact, std::uint32_t(link::Fact::File), text.bytes, text.size);
        }
    }
    errno = error;
}

void tellOpened(const char *path, int flags, std::uint64_t place)
{
    if (flags & (O_DIRECTORY | O_PATH))
        return;
    tell((flags & O_ACCMODE) == O_RDONLY && !(flags & (O_TRUNC | O_CREAT)) ? Done::Read : Done::Write, path,
         place);
}

bool writes(const char *mode)
{
    return mode && std::strpbrk(mode, "wa+");
}

std::uint64_t place(void *returnAddress)
{
    return reinterpret_cast<std::uint64_t>(returnAddress);
}

template <StubId id> int hookOpen(const char *path, int flags, mode_t mode)
{
    const auto real = reinterpret_cast<int (*)(const char *, int, ...)>(realOf[id]);
    const int file = real(path, flags, mode);
    if (file >= 0)
        tellOpened(path, flags, place(__builtin_return_address(0)));
    return file;
}

int hookOpenAt(int folder, const char *path, int flags, mode_t mode)
{
    const auto real = reinterpret_cast<int (*)(int, const char *, int, ...)>(realOf[StubFileOpenAt]);
    const int file = real(folder, path, flags, mode);
    if (file >= 0 && (folder == AT_FDCWD || (path && *path == '/')))
        tellOpened(path, flags, place(__builtin_return_address(0)));
    return file;
}

template <StubId id> std::FILE *hookStream(const char *path, const char *mode)
{
    const auto real = reinterpret_cast<std::FILE *(*)(const char *, const char *)>(realOf[id]);
    std::FILE *file = real(path, mode);
    if (file)
        tell(writes(mode) ? Done::Write : Done::Read, path, place(__builtin_return_address(0)));
    return file;
}

int hookRename(const char *from, const char *to)
{
    const auto real = reinterpret_cast<int (*)(const char *, const char *)>(realOf[StubFileRename]);
    const int failed = real(from, to);
    if (!failed)
        tell(Done::Rename, to, place(__builtin_return_address(0)));
    return failed;
}

int hookRenameAt(int fromFolder, const char *from, int toFolder, const char *to, unsigned flags)
{
    const auto real =
        reinterpret_cast<int (*)(int, const char *, int, const char *, unsigned)>(realOf[StubFileRenameAt]);
    const int failed = real(fromFolder, from, toFolder, to, flags);
    if (!failed && (toFolder == AT_FDCWD || *to == '/'))
        tell(Done::Rename, to, place(__builtin_return_address(0)));
    return failed;
}

// How a file without a name gets one.
int hookLinkAt(int fromFolder, const char *from, int toFolder, const char *to, int flags)
{
    const auto real =
        reinterpret_cast<int (*)(int, const char *, int, const char *, int)>(realOf[StubFileLinkAt]);
    const int failed = real(fromFolder, from, toFolder, to, flags);
    if (!failed && (toFolder == AT_FDCWD || *to == '/'))
        tell(Done::Rename, to, place(__builtin_return_address(0)));
    return failed;
}

template <StubId id> int hookRemove(const char *path)
{
    const auto real = reinterpret_cast<int (*)(const char *)>(realOf[id]);
    const int failed = real(path);
    if (!failed)
        tell(Done::Remove, path, place(__builtin_return_address(0)));
    return failed;
}

} // namespace

void installFiles()
{
    setFolder(home, "HOME", "");
    char otherwise[longest];
    std::snprintf(otherwise, sizeof otherwise, "%.*s.config", int(longest) - 16, home);
    setFolder(settings, "XDG_CONFIG_HOME", home[0] ? otherwise : "");
    std::snprintf(otherwise, sizeof otherwise, "%.*s.cache", int(longest) - 16, home);
    setFolder(cache, "XDG_CACHE_HOME", home[0] ? otherwise : "");
    setFolder(temporary, "TMPDIR", "/tmp");
    const std::pair<StubId, void *> hooks[] = {
        {StubFileOpen, reinterpret_cast<void *>(&hookOpen<StubFileOpen>)},
        {StubFileOpen64, reinterpret_cast<void *>(&hookOpen<StubFileOpen64>)},
        {StubFileOpenAt, reinterpret_cast<void *>(&hookOpenAt)},
        {StubFileStream, reinterpret_cast<void *>(&hookStream<StubFileStream>)},
        {StubFileStream64, reinterpret_cast<void *>(&hookStream<StubFileStream64>)},
        {StubFileRename, reinterpret_cast<void *>(&hookRename)},
        {StubFileRenameAt, reinterpret_cast<void *>(&hookRenameAt)},
        {StubFileLinkAt, reinterpret_cast<void *>(&hookLinkAt)},
        {StubFileUnlink, reinterpret_cast<void *>(&hookRemove<StubFileUnlink>)},
        {StubFileRemove, reinterpret_cast<void *>(&hookRemove<StubFileRemove>)},
    };
    for (const auto &[id, hook] : hooks)
        realOf[id] = realFunction(id); // not looked up later, in a signal handler
    for (const auto &[id, hook] : hooks)
        setStub(id, hook);
}

} // namespace pipit::recorder
