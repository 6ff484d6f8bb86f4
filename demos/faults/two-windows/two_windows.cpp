#include "two_windows.h"

TwoWindows::TwoWindows(QWidget *parent) : TwoWindowsBase(parent)
{
}
