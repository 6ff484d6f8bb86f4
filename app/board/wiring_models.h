// What the Board's middle and right columns show: connections as sentences, handlers as cards.
//
// Threads: the loop's thread only. Rebuilt when the project changes; figures are read from the
// session while painting, so that traffic costs no rebuild.
#pragma once

#include "app/session/session.h"

#include <QAbstractListModel>

#include <vector>

namespace pipit::app
{

struct SentenceRow {
    QString source;      // shown in the first row of each source
    bool first = false;  // of its source
    QString connection;  // id; empty for a source nobody listens to
    QString handler;     // its target, when it is a handler
    QString object;      // the source's name, or the selector
    QString finding;     // a sentence when something is wrong here
    bool broken = false; // it is more than a hint
    bool event = false, enabled = true;
    Shape shape = Shape::OneGo; // the handler's
    QString phrase;             // "clicked calls boardPassenger"
    QString mark;               // condition, pacing and the like, short
    QString sentence;           // the whole, for screen readers
};

struct CardRow {
    enum Kind { Band, Card } kind = Card;
    Shape shape = Shape::OneGo;
    bool timerBand = false;
    QString name;  // of the handler; the band's heading
    QString place; // "ferry_desk.cpp:24"
    QString pace;  // "in the queue gauge", "up to 3 at once"; empty for neither
    QString finding;
    bool broken = false;
    int connections = 0;
};

// The order of the sentences. There may be thousands: words are made only for rows that are shown.
class SentenceModel : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    // As the project is now; `filter` is looked for in the whole sentence.
    void show(const Session &session, const QString &filter);
    int rowCount(const QModelIndex &p = {}) const override { return p.isValid() ? 0 : int(places_.size()); }
    QVariant data(const QModelIndex &index, int role) const override;
    SentenceRow row(int row) const;
    int rowOf(const QString &connection) const; // -1: not shown
    // Which of the project's connections stands there; -1: none.
    int connectionAt(int row) const { return places_[std::size_t(row)].connection; }

private:
    struct Place {
        int connection; // among all of them; -1: a source nobody listens to
        int source;
        bool first;
    };
    void takeSources(const Project &project);
    void takeOrder(const Project &project);
    void takeWords();
    void look(const QString &filter);

    QList<Connection> connections_;
    QStringList sources_;                    // as the outline has them, then selectors
    std::vector<std::pair<int, int>> order_; // source and number of each connection
    // As they were when the above was made: what still shares its data has not changed.
    QList<WindowNode> windows_;
    QList<Handler> handlers_;
    QSet<QString> onThread_; // objects that live on one of their own
    QStringList named_;      // the sources without selectors, and where each stands
    QHash<QString, int> rank_;
    QStringList words_; // the whole sentences of these, once a filter needed them
    QList<Connection> worded_;
    QHash<QString, QString> findings_;
    QSet<QString> broken_;
    QHash<QString, Shape> moved_; // handlers that do not run in one go
    std::vector<Place> places_;
};

class CardModel : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    // Cards in their bands, ordered by the mean row of their sources.
    void show(Session &session, const SentenceModel &sentences);
    const QList<CardRow> &rows() const { return rows_; }
    int rowCount(const QModelIndex &p = {}) const override { return p.isValid() ? 0 : int(rows_.size()); }
    QVariant data(const QModelIndex &index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;

private:
    QList<CardRow> rows_;
};

// Counts of a handler, over all functions that make it up.
CallFigures figuresOfHandler(const Session &session, const QString &handler);

} // namespace pipit::app
