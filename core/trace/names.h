// Who is who in a trace: objects, signals, links, threads, messages. Each has a number; what a number
// stands for never changes, but an object without a caption may get one. Equal texts are kept once.
//
// Threads: one writer; any number of readers, without locks, but for `code`, which has one, held for a
// moment. Records of the dictionary come in through `learn`.
#pragma once

#include "core/records/near_map.h"
#include "core/spans/append_only.h"
#include "core/spans/span.h"
#include "link/record.h"

#include <QHash>
#include <QList>
#include <QString>

#include <atomic>
#include <mutex>
#include <unordered_map>
#include <vector>

namespace pipit
{

struct ObjectInfo {
    QString className;
    QString name;    // objectName, may be empty
    QString caption; // what stands on a widget without a name, may be empty
    std::uint64_t address = 0;
    // tideButton, QPushButton "Ask", QTimer
    QString text() const
    {
        return !name.isEmpty()     ? name
               : caption.isEmpty() ? className
                                   : className + QStringLiteral(" \"") + caption + '"';
    }
};

struct SignalInfo {
    QString className;
    QString signature;
    QString name() const { return signature.left(signature.indexOf('(')); }
};

struct CodeInfo {
    QString module;
    std::uint64_t offset = 0; // in the module's file, as its symbol table counts
};

// How a handler was bound: one connect call, posted function or single shot.
struct LinkRow {
    link::LinkKind kind = link::LinkKind::Functor;
    std::uint64_t serial = 0;
    std::uint32_t sender = 0;                                    // object index + 1, 0 none
    std::uint32_t signal = 0;                                    // signal index + 1, 0 none
    std::uint64_t code = 0;                                      // addresses, see code()
    std::uint64_t place = 0, outerPlace = 0, outermostPlace = 0; // addresses
    std::uint64_t first = 0, second = 0, fourth = 0; // words that the slot object holds, see LinkWords
    bool codeIsFunction = false;                     // else it is made from a template around it
};

// What a thread has been told to call objects: its own, since an address may be used again. 0: not known.
using ObjectsByAddress = NearMap;

class TraceNames
{
public:
    TraceNames();

    ObjectInfo object(std::uint32_t i) const;
    SignalInfo signal(std::uint32_t i) const;
    LinkRow link(std::uint32_t i) const { return i < links_.size() ? links_[i] : LinkRow{}; }
    std::uint32_t linkCount() const { return links_.size(); }
    CodeInfo code(std::uint64_t address) const;
    const QString &message(std::uint32_t i) const { return text(i < messages_.size() ? messages_[i] : 0); }

    // The writer's. A record of the dictionary; others are passed over.
    void learn(ObjectsByAddress &objects, const link::Record &s, const char *text, std::size_t bytes);
    void forget(std::uint64_t object) { lastNamed_.erase(object); } // it was deleted
    std::uint32_t signalIndex(std::uint64_t key) const;             // 0: not known
    std::uint32_t linkIndex(const link::Record &call);
    std::uint32_t addMessage(const QString &text);
    std::uint32_t intern(const QString &text);
    const QString &text(std::uint32_t i) const { return texts_[i]; }

private:
    struct ObjectRow {
        std::uint64_t address = 0;
        std::uint32_t className = 0, name = 0, caption = 0; // texts
        bool operator==(const ObjectRow &) const = default;
    };
    struct RowHash {
        std::size_t operator()(const ObjectRow &r) const
        {
            return std::size_t(
                (r.address ^ std::uint64_t(r.className) << 40 ^ std::uint64_t(r.name) << 20 ^ r.caption) *
                0x9e3779b97f4a7c15u);
        }
    };
    // Whether the row is of an object that was known there without a caption, which it has now; which one.
    bool captionFound(const ObjectRow &row, std::uint32_t &index);
    static std::atomic_ref<std::uint32_t> captionOf(const ObjectRow &r);
    void learnObject(ObjectsByAddress &objects, const link::Record &s, const QString &words);
    void learnLink(const link::Record &s);

    AppendOnly<QString> texts_;
    AppendOnly<ObjectRow> objects_;
    AppendOnly<SignalInfo> signals_;
    AppendOnly<LinkRow> links_;
    AppendOnly<std::uint32_t> messages_; // texts

    // Writer only.
    QHash<QString, std::uint32_t> textRows_;
    std::unordered_map<ObjectRow, std::uint32_t, RowHash> objectRows_;
    std::unordered_map<std::uint64_t, std::uint32_t> signalRows_, linkRows_;
    std::unordered_map<std::uint64_t, std::uint32_t> lastNamed_; // objects by address, on any thread
    std::unordered_map<std::uint64_t, LinkRow> linkPlaces_;      // of links that are recorded next

    mutable std::mutex mutex_; // guards codes_
    QHash<std::uint64_t, CodeInfo> codes_;
};

} // namespace pipit
