# A folder of the code as a library of its own, allowed to see its neighbours in rooms.cmake only.
include(${CMAKE_SOURCE_DIR}/rooms.cmake)

function(room_neighbours folder out)
  foreach(room ${PIPIT_ROOMS})
    if(room MATCHES "^${folder}: ?(.*)$")
      string(REPLACE " " ";" neighbours "${CMAKE_MATCH_1}")
      set(${out} ${neighbours} PARENT_SCOPE)
      return()
    endif()
  endforeach()
  message(FATAL_ERROR "${folder} is not in rooms.cmake: add it with the folders that it may use")
endfunction()

function(room_target folder out)
  string(REPLACE "/" "-" name ${folder})
  set(${out} pipit-${name} PARENT_SCOPE)
endfunction()

# Before the target is compiled, every include in the folder is held against the list.
function(check_room target folder)
  room_neighbours(${folder} neighbours)
  string(REPLACE "/" "-" name ${folder})
  file(GLOB files CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/${folder}/*.h ${CMAKE_SOURCE_DIR}/${folder}/*.cpp
       ${CMAKE_SOURCE_DIR}/${folder}/*.c)
  set(stamp ${CMAKE_BINARY_DIR}/rooms/${name})
  add_custom_command(OUTPUT ${stamp}
    COMMAND ${CMAKE_COMMAND} -DFOLDER=${folder} "-DMAY_USE=${neighbours}" "-DFILES=${files}"
            -DSOURCE_DIR=${CMAKE_SOURCE_DIR} -DSTAMP=${stamp} -P ${CMAKE_SOURCE_DIR}/cmake/check_room.cmake
    DEPENDS ${files} ${CMAKE_SOURCE_DIR}/rooms.cmake ${CMAKE_SOURCE_DIR}/cmake/check_room.cmake VERBATIM)
  add_custom_target(${target}-room DEPENDS ${stamp})
  add_dependencies(${target} ${target}-room)
endfunction()

# A static library of the folder's sources, linked to its neighbours and to LIBRARIES. With MOC its headers
# are read for meta-objects, and what that gives is compiled with the rest: AUTOMOC would compile it apart.
function(room folder)
  cmake_parse_arguments(R "MOC" "HEADERS_FROM" "LIBRARIES" ${ARGN})
  room_target(${folder} target)
  file(GLOB sources CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/${folder}/*.cpp ${CMAKE_SOURCE_DIR}/${folder}/*.h)
  list(FILTER sources EXCLUDE REGEX "/main.cpp$")
  if(R_MOC)
    set(headers ${sources})
    list(FILTER headers INCLUDE REGEX "\\.h$")
    qt_wrap_cpp(sources ${headers} OPTIONS --no-notes)
  endif()
  add_library(${target} STATIC ${sources})
  room_neighbours(${folder} neighbours)
  foreach(neighbour ${neighbours})
    room_target(${neighbour} library)
    target_link_libraries(${target} PUBLIC ${library})
  endforeach()
  target_link_libraries(${target} PUBLIC ${R_LIBRARIES})
  target_precompile_headers(${target} REUSE_FROM ${R_HEADERS_FROM})
  # A folder's files as few units, which is quicker from nothing: what templates make is made once in each. More
  # files a unit would save more, but a unit should stay under 30 s.
  set(batch 14)
  if(R_MOC)
    set(batch 8)
  endif()
  set_target_properties(${target} PROPERTIES UNITY_BUILD ${PIPIT_UNITY} UNITY_BUILD_BATCH_SIZE ${batch})
  check_room(${target} ${folder})
endfunction()
