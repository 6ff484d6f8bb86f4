// Who a call's handler is: its name, where it stands, which connection of the project led to it.
//
// Threads: one at a time, off the event loop (it asks Places). A recording that is finished has
// its answers stored beside it (`save`, `load`), so that it says the same after the program was
// built anew or on another machine.
#pragma once

#include "core/base/result.h"
#include "core/trace/model.h"
#include "core/trace/places.h"

#include <QJsonObject>

#include <mutex>
#include <vector>

namespace pipit
{

struct HandlerName {
    QString name; // "boardPassenger", "MainWindow::save", "lambda at main.cpp:12"
    QString file; // empty when unknown
    int line = 0;
    QString connection;     // id in the project; empty for programs not composed here
    QString handler;        // handler's id in the project
    QString source, signal; // what it was connected to, in words; may be empty
    // Code between a signal and its handlers, which looks whether they are called: no handler, and
    // no call of one.
    bool helper = false;
};

// Which line of the generated wiring belongs to which connection (docs/formats/project.md).
struct WiringMap {
    struct Entry {
        QString connection, handler, name, source, signal;
        bool helper = false;
    };
    QHash<std::pair<QString, int>, Entry> lines;         // by the generated file's name and line
    QHash<QString, std::pair<QString, int>> definitions; // function name → file, line
    static Result<WiringMap> load(const QString &path);
    static WiringMap of(const QJsonObject &file);
};

// Of a Connected or NotConnected: the place of the call, and those around it.
std::vector<std::uint64_t> connectPlaces(const TraceModel &trace, const FactRow &fact);
// Of all facts, each once.
std::vector<std::uint64_t> factPlaces(const TraceModel &trace);

class Handlers
{
public:
    explicit Handlers(const TraceModel &trace) : trace_(trace) {}
    void setMap(WiringMap map) { map_ = std::move(map); }

    // Thread-safe; slow only for a link that was never asked for. What it gives stays.
    const HandlerName &of(std::uint32_t link);
    bool isHelper(std::uint32_t link) { return of(link).helper; }
    // What identifies a handler, whatever its name: its id in the project, or its code.
    QString identity(std::uint32_t link);
    // Says what the frames of a stack are called, unless they are named already. Slow the first time.
    void nameFrames(StackSample &sample);
    // Where a call returns to that a fact was told from: its line in the program's own source. Slow the first
    // time.
    StackFrame placeAt(std::uint64_t returnAddress);
    // Of the places of one call, the innermost first, the one in code that is not the toolkit's headers.
    StackFrame placeAt(const std::vector<std::uint64_t> &returnAddresses);
    // Whether the program was built with this connection.
    bool knowsConnection(const QString &id);
    // The code of a module in which these connections are made and their handlers called.
    Places::Pieces codeOf(const QStringList &connections, const QString &module);

    Outcome save(const QString &path);
    void load(const QJsonObject &file); // what `save` wrote
    // Of a recording from elsewhere: from now on nothing is read from this machine's programs, which may be
    // others.
    void setApart();

private:
    bool isInHeader(std::uint64_t returnAddress);
    void nameFrame(StackFrame &frame);
    HandlerName find(const LinkRow &row);
    HandlerName findByCode(const LinkRow &row);
    QByteArray codeKey(const LinkRow &row) const;
    const WiringMap::Entry *entryOf(const LinkRow &row);
    void nameFunction(const CodeInfo &code, HandlerName &h);
    bool nameCallee(const CodeInfo &code, const LinkRow &row, HandlerName &h);
    void nameWork(const QString &className, HandlerName &h);
    HandlerName fromMap(const WiringMap::Entry &entry, HandlerName known) const;

    const TraceModel &trace_;
    std::mutex placesMutex_; // guards what follows; held while debug information is read
    Places places_;
    WiringMap map_;
    QHash<QByteArray, HandlerName> byCode_; // what does not depend on who was connected to what
    QHash<std::pair<QString, std::uint64_t>, StackFrame> frames_; // that were named
    QHash<std::pair<QString, std::uint64_t>, bool>
        inHeader_;     // whether the function is of a header of the toolkit's
    std::mutex mutex_; // guards what follows, for those who write; held for a moment only
    std::unordered_map<std::uint64_t, HandlerName> known_; // by serial, or by code for slots called by index
    struct Named {
        std::atomic<const HandlerName *> name{nullptr};
        Named() = default;
        Named(Named &&) noexcept {} // none, to begin with
        Named &operator=(Named &&) noexcept { return *this; }
    };
    AppendOnly<Named> named_; // by link; read without the lock
};

} // namespace pipit
