# SPDX-License-Identifier: MIT
# What programs of a PC are built with: plans, sizing, rules and the bench, as static libraries and a shared one.
find_package(PkgConfig REQUIRED)
pkg_check_modules(FYAML REQUIRED IMPORTED_TARGET GLOBAL libfyaml)
pkg_check_modules(LAPACKE REQUIRED IMPORTED_TARGET GLOBAL lapacke)
find_library(CSV_LIBRARY csv REQUIRED) # libcsv has no pkg-config file

# A room is a folder of src/, and all its sources belong to it; from the ground up: docs/architecture.md.
function(sources_of_rooms out)
  foreach(room ${ARGN})
    file(GLOB found CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/src/${room}/*.c)
    list(APPEND all ${found})
  endforeach()
  set(${out} ${all} PARENT_SCOPE)
endfunction()
sources_of_rooms(design_sources base circuit sizing model reader elaborate scene analysis firmware proposals rules)
sources_of_rooms(bench_sources bench)
add_library(design-rooms OBJECT ${design_sources})
add_library(bench-rooms OBJECT ${bench_sources}) # simulated hardware behind the port
set(host_needs m PkgConfig::FYAML PkgConfig::LAPACKE csv)
foreach(rooms design-rooms bench-rooms)
  target_include_directories(${rooms} PUBLIC ${PROJECT_SOURCE_DIR}/include ${PROJECT_SOURCE_DIR}/src)
  target_link_libraries(${rooms} PUBLIC ${host_needs})
  set_target_properties(${rooms} PROPERTIES POSITION_INDEPENDENT_CODE ON)
endforeach()

# All rooms with all their names, for the command and the tests, which look inside.
add_library(tinyladder-rooms STATIC $<TARGET_OBJECTS:design-rooms> $<TARGET_OBJECTS:bench-rooms>)
target_include_directories(tinyladder-rooms PUBLIC ${PROJECT_SOURCE_DIR}/include ${PROJECT_SOURCE_DIR}/src)
target_link_libraries(tinyladder-rooms PUBLIC tinyladder ${host_needs})

# What is installed has the names of the public headers and no other: abi/host.map lists them. The bench's library has
# the plan's rooms inside; linked together with tinyladder-design it gives way to it.
function(public_library name)
  add_custom_command(OUTPUT ${name}.o
    COMMAND ${PROJECT_SOURCE_DIR}/scripts/public-object.sh ${PROJECT_BINARY_DIR}/${name}.o
      "${CMAKE_LINKER}" "${CMAKE_OBJCOPY}" ${ARGN} "$<TARGET_OBJECTS:design-rooms>"
    DEPENDS tinyladder-rooms ${PROJECT_SOURCE_DIR}/abi/host.map ${PROJECT_SOURCE_DIR}/scripts/public-object.sh
    COMMAND_EXPAND_LISTS VERBATIM)
  add_library(${name} STATIC ${PROJECT_BINARY_DIR}/${name}.o)
  set_target_properties(${name} PROPERTIES LINKER_LANGUAGE C)
  set_source_files_properties(${PROJECT_BINARY_DIR}/${name}.o PROPERTIES EXTERNAL_OBJECT TRUE GENERATED TRUE)
  target_include_directories(${name} PUBLIC
    $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
  target_link_libraries(${name} PUBLIC tinyladder m PRIVATE PkgConfig::FYAML PkgConfig::LAPACKE csv)
endfunction()
public_library(tinyladder-design)
public_library(tinyladder-bench $<TARGET_OBJECTS:bench-rooms>)

# All three in one, for programs that load it: core, plans and bench. A call that is taken away or takes other arguments,
# a structure that lies otherwise and a constant with another value are another ABI: a higher number here, then `make abi`.
set(TINYLADDER_ABI 3)
set_target_properties(tinyladder PROPERTIES POSITION_INDEPENDENT_CODE ON)
add_library(tinyladder-host SHARED $<TARGET_OBJECTS:tinyladder> $<TARGET_OBJECTS:design-rooms>
            $<TARGET_OBJECTS:bench-rooms>)
set_target_properties(tinyladder-host PROPERTIES VERSION ${TINYLADDER_ABI}.${PROJECT_VERSION_MINOR}.${PROJECT_VERSION_PATCH}
                      SOVERSION ${TINYLADDER_ABI} LINK_DEPENDS ${PROJECT_SOURCE_DIR}/abi/host.map)
target_link_options(tinyladder-host PRIVATE LINKER:--version-script=${PROJECT_SOURCE_DIR}/abi/host.map)
target_link_libraries(tinyladder-host PRIVATE m PkgConfig::FYAML PkgConfig::LAPACKE csv)
target_include_directories(tinyladder-host PUBLIC
  $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)

# Under the names by which `find_package` knows them.
foreach(library design bench host)
  add_library(tinyladder::${library} ALIAS tinyladder-${library})
  set_target_properties(tinyladder-${library} PROPERTIES EXPORT_NAME ${library})
endforeach()
