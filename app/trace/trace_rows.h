// The rows of the Trace page: a story, computed page by page on a worker, its rows made when they are shown.
//
// Threads: the loop's thread only; a pool of its own counts pages, and what comes of it is handed over in
// slices. Rows keep their place while the trace grows.
#pragma once

#include "app/session/session.h"
#include "core/trace/story.h"

#include <QAbstractListModel>
#include <QThreadPool>

#include <deque>
#include <memory>

namespace pipit::app
{

class TraceRows : public QAbstractListModel
{
    Q_OBJECT
public:
    explicit TraceRows(Session *session);
    ~TraceRows() override;

    // Another story, from the beginning; of the trace that is shown.
    void tell(const StoryChoice &choice);
    void refresh(); // what came since
    bool complete() const { return !telling_; }
    bool hurried() const; // see StoryTeller; once it is complete

    StoryRow at(int row) const;
    Span spanAt(int row) const; // of one that is not idle time
    QString sentence(int row) const;
    int rowOf(SpanId span) const; // -1: no row; for a folded span, the fold's
    int reveal(SpanId span);      // the same, and opens what it is folded away in
    // Opens or closes what repeats; false where the row stands for itself.
    bool toggle(int row);
    bool isFold(int row) const { return bool(at(row).repeats); }
    int foldOf(int row) const; // of a row that stands in an opened one; -1: of none
    const StoryChoice &choice() const { return choice_; }
    // When some of the rows began, evenly spread: what is seen of them from far away.
    std::vector<std::int64_t> someTimes() const;
    int rowAt(std::int64_t time) const; // the last one that began by then; -1: none yet
    int rowCount(const QModelIndex &p = {}) const override
    {
        return p.isValid() ? 0 : paged_ + int(tail_.size());
    }
    QVariant data(const QModelIndex &index, int role) const override;

Q_SIGNALS:
    void arrived(); // more, or nothing more

private:
    struct Telling;
    struct Page {
        StoryPage story;
        int first = 0; // row
    };
    void ask(bool first);
    void take(StoryTeller::News news);
    const std::vector<StoryRow> &rowsOf(std::size_t page) const;
    std::size_t pageOf(int row) const;

    Session *session_;
    StoryChoice choice_;
    std::set<SpanId> opened_;
    std::shared_ptr<Telling> teller_;
    StoryPage rest_;                        // what the tail was made from
    mutable std::unique_ptr<StoryEye> eye_; // the loop's
    std::vector<Page> pages_;
    std::vector<StoryRow> tail_;
    int paged_ = 0; // rows in pages
    bool telling_ = false, again_ = false;
    mutable std::deque<std::pair<std::size_t, std::vector<StoryRow>>> made_; // pages that were shown last
    QThreadPool pool_, quietPool_;
};

} // namespace pipit::app
