// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"
#include "../confirm_dialog.h"

#include <QtCore/QMimeData>
#include <QtGui/QEnterEvent>

QString tideForecastWork(QPromise<QString> &promise, const QString &input);
QString saveManifestWork(QPromise<QString> &promise, const QStringList &input);
