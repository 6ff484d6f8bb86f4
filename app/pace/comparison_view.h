// Runs before and after a change as a table of figures, each with where every run lies; and what that says.
//
// Threads: the loop's thread only.
#pragma once

#include "core/pace/compare.h"

#include <QWidget>

namespace pipit::app
{

class ComparisonView : public QWidget
{
    Q_OBJECT
public:
    explicit ComparisonView(QWidget *parent = nullptr);
    void set(const Comparison &c);
    void setEmptyText(const QString &text);
    const Comparison &comparison() const { return comparison_; }
    QSize sizeHint() const override { return {360, 240}; }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    QString words() const; // the verdict, or why there is none
    Comparison comparison_;
    bool has_ = false;
    QString empty_ = "Run the same play before and after a change. The runs appear here side by side.";
};

} // namespace pipit::app
