#include "dead_handler.h"

DeadHandler::DeadHandler(QWidget *parent) : DeadHandlerBase(parent)
{
}

void DeadHandler::boardPassenger()
{
}
