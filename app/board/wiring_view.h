// The Board's wiring: sentences on the left, handler cards on the right, strands between them.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/band_foot.h"
#include "app/board/wiring_models.h"

#include <QListView>

#include <QStyledItemDelegate>
#include <QWidget>
#include <functional>

namespace pipit::app
{

class Gutter;

class WiringView : public QWidget
{
    Q_OBJECT
public:
    explicit WiringView(Session *session, QWidget *parent = nullptr);
    void setFilter(const QString &text);
    QListView *sentences() const { return sentences_; }
    QListView *cards() const { return cards_; }
    const SentenceModel *sentenceModel() const { return sentenceModel_; }
    const CardModel *cardModel() const { return cardModel_; }
    BandFoot *bandFoot() const { return foot_; }
    // Stands where the sentences are, until it is null again; it is not owned. Strands begin at what
    // `placeOf` says of a source, in the other's coordinates; nowhere when that is invalid.
    using PlaceOf = std::function<QRect(const QString &object)>;
    void setInPlaceOfSentences(QWidget *other, PlaceOf placeOf = {});
    void strandsMoved();  // what they begin at was drawn anew
    void removeHandler(); // the selected one
    // As it was dragged; 0: the usual share.
    int cardsWidth() const { return cardsWidth_; }
    void setCardsWidth(int width);

Q_SIGNALS:
    void handlerOpened(const QString &handler);
    void moveAsked(const QString &handler, pipit::Shape shape);
    void connectAsked(const QString &object);
    void cardsWidthChanged();

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    friend class Gutter;
    void makeLists();
    void fitCards();
    void hear();
    void hearChoices();
    void showFigures();
    void makeKeys();
    void rebuild();
    void takeSelection();
    void removeSelected();
    void switchSelected();
    void moveSelected(int by);
    void dropCard(const QPoint &at);
    void askMove(Shape target);

    Session *session_;
    QListView *sentences_, *cards_;
    Gutter *gutter_;
    BandFoot *foot_;
    QWidget *inPlace_ = nullptr, *right_;
    PlaceOf placeOf_;
    int cardsWidth_ = 0;
    SentenceModel *sentenceModel_;
    CardModel *cardModel_;
    QString filter_;
    QString dragged_; // the handler whose card is being dragged
    QPoint pressedAt_;
    bool updating_ = false;
    QHash<int, CallFigures> sentenceFigures_, cardFigures_; // as they were shown last, by row
    bool anyFigures_ = false;
};

class SentenceDelegate : public QStyledItemDelegate
{
    Q_OBJECT
public:
    SentenceDelegate(Session *s, SentenceModel *m, QObject *parent)
        : QStyledItemDelegate(parent), session_(s), model_(m)
    {
    }
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const override
    {
        return {200, rowHeightOf()};
    }

private:
    static int rowHeightOf();
    Session *session_;
    SentenceModel *model_;
};

class CardDelegate : public QStyledItemDelegate
{
    Q_OBJECT
public:
    CardDelegate(Session *s, CardModel *m, QObject *parent)
        : QStyledItemDelegate(parent), session_(s), model_(m)
    {
    }
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    QSize sizeHint(const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    // The two words at the foot of an opened card.
    static QRect openWord(const QRect &card);
    static QRect moveWord(const QRect &card);

private:
    Session *session_;
    CardModel *model_;
};

} // namespace pipit::app
