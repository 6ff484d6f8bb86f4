// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"
#include "../confirm_dialog.h"

#include <QtCore/QMimeData>
#include <QtGui/QEnterEvent>

