#include "hidden_member.h"

HiddenMember::HiddenMember(QWidget *parent) : HiddenMemberBase(parent)
{
}

void HiddenMember::resized(int value)
{
    Q_UNUSED(value)
}
