// Why nothing happened, or what did: what was done in the program at the left, the stations of one of these
// at the right, with a sentence and what to do.
//
// Threads: the loop's thread only; questions are answered by a worker.
#pragma once

#include "app/look/row_list.h"
#include "app/session/session.h"
#include "app/why/stations_view.h"
#include "core/why/interactions.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

#include <optional>

namespace pipit::app
{

class WhyPage : public QWidget
{
    Q_OBJECT
public:
    explicit WhyPage(Session *session, QWidget *parent = nullptr);

    void askAbout(const QString &widget, std::optional<std::int64_t> at = std::nullopt);
    void askAboutLast(); // what was done last

    RowList *interactions() const { return done_; }
    StationsView *stations() const { return stations_; }
    QLineEdit *line() const { return line_; }
    QLabel *sentence() const { return sentence_; }
    QPushButton *mendButton() const { return mend_; }
    const std::optional<WhyAnswer> &answer() const { return answer_; }

Q_SIGNALS:
    void placeAsked(const QString &file, int line);
    void timeAsked(std::int64_t ns);
    void moveAsked(const QString &handler);      // to the background
    void connectAsked(const QString &beginning); // of the line that connects
    void answered();

protected:
    void showEvent(QShowEvent *event) override;

private:
    QWidget *makeDoneSide();
    QWidget *makeAnswerSide();
    void lookForMore();
    void add(std::vector<Interaction> more);
    void show(const Result<WhyAnswer> &result);
    void showButtons();
    void showEmpty();
    void mend();

    Session *session_;
    QLineEdit *line_;
    RowList *done_, *changes_;
    StationsView *stations_;
    QLabel *title_, *sentence_, *fix_, *changesTitle_;
    QPushButton *code_, *trace_, *mend_;
    QTimer later_; // what was done since is looked for then
    std::shared_ptr<Interactions> interactions_ = std::make_shared<Interactions>();
    std::vector<Interaction> all_;
    bool looking_ = false, again_ = false, last_ = false;
    int question_ = 0; // the number of the one that is asked
    std::optional<WhyAnswer> answer_;
};

} // namespace pipit::app
