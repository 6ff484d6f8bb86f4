// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"

