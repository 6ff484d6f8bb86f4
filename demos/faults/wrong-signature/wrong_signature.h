#pragma once

#include "generated/wrong_signature_base.h"
#include "generated/wrong_signature_handlers.h"

class WrongSignature : public WrongSignatureBase
{
public:
    explicit WrongSignature(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/wrong_signature_members.inc"
};
