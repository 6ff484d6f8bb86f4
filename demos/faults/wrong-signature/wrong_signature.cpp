#include "wrong_signature.h"

WrongSignature::WrongSignature(QWidget *parent) : WrongSignatureBase(parent)
{
}

void WrongSignature::takeText(const QString &value)
{
    Q_UNUSED(value)
}
