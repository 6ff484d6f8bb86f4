#pragma once

#include "generated/hidden_member_base.h"
#include "generated/hidden_member_handlers.h"

class HiddenMember : public HiddenMemberBase
{
public:
    explicit HiddenMember(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/hidden_member_members.inc"
};
