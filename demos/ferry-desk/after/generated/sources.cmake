# Made by Pipit; edits here are overwritten.
find_package(Qt6 REQUIRED COMPONENTS Widgets Concurrent)
set(PROJECT_SOURCES confirm_dialog.cpp ferry_desk.cpp confirm_dialog.h ferry_desk.h generated/ferry_desk_base.cpp generated/ferry_desk_wiring.cpp generated/confirm_dialog_base.cpp generated/confirm_dialog_wiring.cpp generated/main.cpp)
set(PROJECT_LIBRARIES Qt6::Widgets Qt6::Concurrent)
set(PROJECT_FILES "devices/gate_sensor")
foreach(file IN LISTS PROJECT_FILES)
  if(EXISTS "${CMAKE_CURRENT_SOURCE_DIR}/${file}")
    get_filename_component(folder "${file}" DIRECTORY)
    configure_file("${file}" "${CMAKE_CURRENT_BINARY_DIR}/${file}" COPYONLY)
    install(FILES "${file}" DESTINATION "./${folder}" PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE
            GROUP_READ GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)
  endif()
endforeach()
