#include "app/shell/course_bar.h"

#include "app/look/tokens.h"

#include <QHBoxLayout>
#include <QPainter>

namespace pipit::app
{

CourseBar::CourseBar(Course *course, QWidget *parent) : QFrame(parent), course_(course)
{
    setObjectName("courseBar");
    setAccessibleName("Course");
    say_ = new QLabel;
    say_->setWordWrap(true);
    say_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    far_ = new QLabel;
    far_->setFont(smallFont());
    back_ = new QPushButton("Back");
    next_ = new QPushButton;
    leave_ = new QPushButton("Leave the course");
    for (QPushButton *b : {back_, next_, leave_})
        b->setProperty("word", true);
    auto *line = new QHBoxLayout(this);
    line->setContentsMargins(padding + 24, 6, padding, 6);
    line->setSpacing(6);
    line->addWidget(say_, 1);
    line->addSpacing(8);
    line->addWidget(far_);
    line->addWidget(back_);
    line->addWidget(next_);
    line->addWidget(leave_);
    connect(course_, &Course::changed, this, &CourseBar::fill);
    connect(back_, &QPushButton::clicked, course_, &Course::back);
    connect(next_, &QPushButton::clicked, course_, &Course::next);
    connect(leave_, &QPushButton::clicked, course_, &Course::leave);
    fill();
}

void CourseBar::fill()
{
    setVisible(course_->isOn());
    if (!course_->isOn())
        return;
    say_->setText(course_->say());
    setAccessibleDescription(course_->say());
    far_->setText(QStringLiteral("%1 of %2").arg(course_->at() + 1).arg(course_->count()));
    far_->setToolTip(course_->title());
    back_->setEnabled(course_->at() > 0);
    next_->setText(!course_->waitsForPerson()              ? "Skip this step"
                   : course_->at() + 1 == course_->count() ? "Done"
                                                           : "Next");
}

void CourseBar::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    p.fillRect(rect(), t.buff);
    p.setPen(t.hairline);
    p.drawLine(0, height() - 1, width(), height() - 1);
    p.setRenderHint(QPainter::Antialiasing);
    drawMark(p, Mark::Bird, QPointF(padding + 8, height() / 2.0), t.ink, 18);
}

} // namespace pipit::app
