# Made by Pipit; edits here are overwritten.
find_package(Qt6 REQUIRED COMPONENTS Widgets Concurrent)
set(PROJECT_SOURCES confirm_dialog.cpp ferry_desk.cpp confirm_dialog.h ferry_desk.h generated/ferry_desk_base.cpp generated/ferry_desk_wiring.cpp generated/confirm_dialog_base.cpp generated/confirm_dialog_wiring.cpp generated/main.cpp)
set(PROJECT_LIBRARIES Qt6::Widgets Qt6::Concurrent)
