#include "empty_view.h"

EmptyView::EmptyView(QWidget *parent) : EmptyViewBase(parent)
{
}
