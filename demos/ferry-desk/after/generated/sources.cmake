# Made by Pipit; edits here are overwritten.
set(PROJECT_SOURCES ferry_desk.cpp generated/ferry_desk_base.cpp generated/ferry_desk_wiring.cpp generated/main.cpp)
set(PROJECT_LIBRARIES Qt6::Widgets Qt6::Concurrent)
