// Small costs that are dear together, and what threads do to each other: a sentence each, with the figure
// that makes the case and what mends it.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/row_list.h"
#include "app/pace/pace_look.h"

#include <QLabel>
#include <QPushButton>

namespace pipit::app
{

class StrainsPanel : public QWidget
{
    Q_OBJECT
public:
    StrainsPanel(Session *session, PaceLook *look, QWidget *parent = nullptr);
    [[nodiscard]] RowList *list() const { return list_; }
    [[nodiscard]] QLabel *sentence() const { return sentence_; }

Q_SIGNALS:
    void placeAsked(const QString &file, int line);
    void timeAsked(std::int64_t ns);

private:
    void fill();
    void showStrain();
    const Strain *current() const;

    Session *session_;
    PaceLook *look_;
    RowList *list_;
    QLabel *sentence_;
    QPushButton *open_, *moment_;
};

} // namespace pipit::app
