#pragma once

#include "generated/misspelt_source_base.h"
#include "generated/misspelt_source_handlers.h"

class MisspeltSource : public MisspeltSourceBase
{
public:
    explicit MisspeltSource(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/misspelt_source_members.inc"
};
