# SPDX-License-Identifier: MIT
# The core: its library, its headers, its sources for those who build them in, a CMake package and a pkg-config file.
include(CMakePackageConfigHelpers)

set(core_sources ${TINYLADDER_CORE_SOURCES})
list(TRANSFORM core_sources PREPEND ${CMAKE_CURRENT_SOURCE_DIR}/)
file(GLOB core_inner CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/src/core/*.h)
install(TARGETS tinyladder EXPORT tinyladder-core-targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(DIRECTORY include/tinyladder DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}
        PATTERN design EXCLUDE PATTERN bench.h EXCLUDE)
install(FILES ${core_sources} ${core_inner} DESTINATION ${CMAKE_INSTALL_DATADIR}/tinyladder/core)
install(DIRECTORY conformance ports DESTINATION ${CMAKE_INSTALL_DATADIR}/tinyladder PATTERN bench EXCLUDE)
install(FILES LICENSE README.md DESTINATION ${CMAKE_INSTALL_DOCDIR})

set(package_dir ${CMAKE_INSTALL_LIBDIR}/cmake/tinyladder)
install(EXPORT tinyladder-core-targets NAMESPACE tinyladder:: DESTINATION ${package_dir})
configure_package_config_file(cmake/tinyladder-config.cmake.in ${CMAKE_CURRENT_BINARY_DIR}/tinyladder-config.cmake
                              INSTALL_DESTINATION ${package_dir})
write_basic_package_version_file(${CMAKE_CURRENT_BINARY_DIR}/tinyladder-config-version.cmake
                                 COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/tinyladder-config.cmake
              ${CMAKE_CURRENT_BINARY_DIR}/tinyladder-config-version.cmake DESTINATION ${package_dir})

# The files find their prefix from where they lie, so that an install may be moved or staged.
file(RELATIVE_PATH PC_UP /${CMAKE_INSTALL_LIBDIR}/pkgconfig /)
function(write_pkg_config name description requires libs)
  set(PC_NAME ${name})
  set(PC_DESCRIPTION ${description})
  set(PC_REQUIRES ${requires})
  set(PC_LIBS ${libs})
  configure_file(cmake/library.pc.in ${CMAKE_CURRENT_BINARY_DIR}/${name}.pc @ONLY)
  install(FILES ${CMAKE_CURRENT_BINARY_DIR}/${name}.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endfunction()
write_pkg_config(tinyladder "Core: from pin to trustworthy number" "" "-ltinyladder")
