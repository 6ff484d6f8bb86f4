// What the Board's middle and right columns show: connections as sentences, handlers as cards.
//
// Threads: the loop's thread only. Rebuilt when the project changes; figures are read from the
// session while painting, so that traffic costs no rebuild.
#pragma once

#include "app/shell/session.h"

#include <QAbstractListModel>

namespace pipit::app
{

struct SentenceRow {
    QString source; // shown in the first row of each source
    bool first = false;
    QString connection; // id; empty for a source nobody listens to
    QString handler;    // its target, when it is a handler
    QString object;
    QString finding; // a sentence when something is wrong here
    bool event = false, enabled = true;
    // Where the connection stands among all of them, as they were when the row was made. The words
    // are made when they are shown: there may be thousands.
    QList<Connection> all;
    qsizetype at = -1;

    QString phrase() const;   // "clicked calls boardPassenger"
    QString mark() const;     // condition, pacing and the like, short
    QString sentence() const; // the whole, for screen readers
};

struct CardRow {
    enum Kind { Band, Card } kind = Card;
    Shape shape = Shape::OneGo;
    bool timerBand = false;
    QString name;  // of the handler; the band's heading
    QString place; // "ferry_desk.cpp:24"
    QString finding;
    int connections = 0;
};

template <class T> class ListOf : public QAbstractListModel
{
public:
    using QAbstractListModel::QAbstractListModel;
    void set(QList<T> rows)
    {
        beginResetModel();
        rows_ = std::move(rows);
        endResetModel();
    }
    const QList<T> &rows() const { return rows_; }
    int rowCount(const QModelIndex &p = {}) const override { return p.isValid() ? 0 : int(rows_.size()); }

protected:
    QList<T> rows_;
};

class SentenceModel : public ListOf<SentenceRow>
{
    Q_OBJECT
public:
    using ListOf::ListOf;
    QVariant data(const QModelIndex &index, int role) const override;
};

class CardModel : public ListOf<CardRow>
{
    Q_OBJECT
public:
    using ListOf::ListOf;
    QVariant data(const QModelIndex &index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;
};

QList<SentenceRow> sentenceRows(Session &session, const QString &filter);
// Cards in their bands, ordered by the mean row of their sources.
QList<CardRow> cardRows(Session &session, const QList<SentenceRow> &sentences);
// Counts of a handler, over all functions that make it up.
CallFigures figuresOfHandler(const Session &session, const QString &handler);

} // namespace pipit::app
