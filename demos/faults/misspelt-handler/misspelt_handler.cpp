#include "misspelt_handler.h"

MisspeltHandler::MisspeltHandler(QWidget *parent) : MisspeltHandlerBase(parent)
{
}

void MisspeltHandler::bordPassenger()
{
}
