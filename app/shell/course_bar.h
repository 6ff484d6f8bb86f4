// The course's sentence, under the pace ribbon: what to do now, how far it is, and the way out.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/course.h"

#include <QFrame>
#include <QLabel>
#include <QPushButton>

namespace pipit::app
{

class CourseBar : public QFrame
{
    Q_OBJECT
public:
    explicit CourseBar(Course *course, QWidget *parent = nullptr);
    [[nodiscard]] QLabel *sentence() const { return say_; }
    [[nodiscard]] QPushButton *nextButton() const { return next_; }
    [[nodiscard]] QPushButton *backButton() const { return back_; }
    [[nodiscard]] QPushButton *leaveButton() const { return leave_; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void fill();
    Course *course_;
    QLabel *say_, *far_;
    QPushButton *back_, *next_, *leave_;
};

} // namespace pipit::app
