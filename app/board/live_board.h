// The Board of a program that was not composed here: what is wired in it and lives, its objects at the left,
// its connections as sentences in the middle, its handlers in their bands at the right; code below, to be
// read.
//
// Threads: the loop's thread only; what there is is read by a worker.
#pragma once

#include "app/board/picture_view.h"
#include "app/look/row_list.h"
#include "app/session/session.h"
#include "core/why/live_wiring.h"

#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>

#include <memory>

namespace pipit::app
{

class LiveBoardView : public QWidget
{
    Q_OBJECT
public:
    explicit LiveBoardView(Session *session, QWidget *parent = nullptr);
    RowList *objects() const { return objects_; }
    RowList *sentences() const { return sentences_; }
    RowList *handlers() const { return handlers_; }
    QPlainTextEdit *code() const { return code_; }
    PictureView *picture() const { return picture_; }
    const LiveBoard &board() const { return board_; }
    void openPlace(const QString &file, int line);
    // Selects the widget of the last input, and shows its connections.
    void showLast();

Q_SIGNALS:
    void whyAsked(const QString &widget);
    void told();

protected:
    void showEvent(QShowEvent *event) override;

private:
    QWidget *makeColumns();
    void lookAgain();
    struct Looked;
    static Looked look(const TraceModel &trace, Handlers &handlers, LiveWiring &wiring, LiveRun *run,
                       const Recording *recording, bool withPictures);
    void tell(Looked looked);
    void tellObjects();
    void tellSentences();
    void tellHandlers();
    void tellEmpty();
    QString emptyText() const;
    void showAll();
    void showCode(const QString &text, int line); // from 0
    void showObjectMenu(const QPoint &global);

    Session *session_;
    QLineEdit *filter_;
    PictureView *picture_;
    RowList *objects_, *sentences_, *handlers_;
    QLabel *objectsTitle_, *sentencesTitle_, *place_;
    QPlainTextEdit *code_;
    QPushButton *elsewhere_;
    QTimer later_;
    std::shared_ptr<LiveWiring> wiring_ = std::make_shared<LiveWiring>();
    LiveBoard board_;
    QString file_; // that is shown
    int asked_ = 0;
    bool looking_ = false, again_ = false, read_ = false;
};

} // namespace pipit::app
