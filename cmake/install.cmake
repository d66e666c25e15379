# SPDX-License-Identifier: MIT
# The core: its library, its headers, its sources for those who build them in, a CMake package and a pkg-config file.
include(CMakePackageConfigHelpers)

set(core_sources ${TINYLADDER_CORE_SOURCES})
list(TRANSFORM core_sources PREPEND ${PROJECT_SOURCE_DIR}/)
file(GLOB core_inner CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/src/core/*.h)
install(TARGETS tinyladder EXPORT tinyladder-core-targets ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(DIRECTORY include/tinyladder DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}
        PATTERN design EXCLUDE PATTERN bench.h EXCLUDE)
install(FILES ${core_sources} ${core_inner} DESTINATION ${CMAKE_INSTALL_DATADIR}/tinyladder/core)
install(DIRECTORY conformance ports DESTINATION ${CMAKE_INSTALL_DATADIR}/tinyladder)

# Documentation, and beside it what its links lead to; the folders lie to each other as in the sources.
set(data_dir ${CMAKE_INSTALL_DATADIR}/tinyladder)
install(FILES LICENSE README.md CHANGELOG.md CONTRIBUTING.md SECURITY.md DESTINATION ${CMAKE_INSTALL_DOCDIR})
install(DIRECTORY docs DESTINATION ${CMAKE_INSTALL_DOCDIR})
install(DIRECTORY demo schema examples DESTINATION ${data_dir} PATTERN CMakeLists.txt EXCLUDE)
install(DIRECTORY docs/man/ DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
function(install_link folder name target) # a relative link, so that an install may be moved or staged
  file(RELATIVE_PATH way /${folder} /${target})
  install(CODE "set(folder \"\$ENV{DESTDIR}\${CMAKE_INSTALL_PREFIX}/${folder}\")
    file(MAKE_DIRECTORY \"\${folder}\")
    file(CREATE_LINK \"${way}\" \"\${folder}/${name}\" SYMBOLIC)")
endfunction()
foreach(folder demo schema examples ports)
  install_link(${CMAKE_INSTALL_DOCDIR} ${folder} ${data_dir}/${folder})
endforeach()
install_link(${data_dir} docs ${CMAKE_INSTALL_DOCDIR}/docs)

set(package_dir ${CMAKE_INSTALL_LIBDIR}/cmake/tinyladder)
install(EXPORT tinyladder-core-targets NAMESPACE tinyladder:: DESTINATION ${package_dir})
configure_package_config_file(cmake/tinyladder-config.cmake.in ${PROJECT_BINARY_DIR}/tinyladder-config.cmake
                              INSTALL_DESTINATION ${package_dir})
write_basic_package_version_file(${PROJECT_BINARY_DIR}/tinyladder-config-version.cmake
                                 COMPATIBILITY SameMinorVersion)
install(FILES ${PROJECT_BINARY_DIR}/tinyladder-config.cmake
              ${PROJECT_BINARY_DIR}/tinyladder-config-version.cmake DESTINATION ${package_dir})

# The files find their prefix from where they lie, so that an install may be moved or staged.
file(RELATIVE_PATH PC_UP /${CMAKE_INSTALL_LIBDIR}/pkgconfig /)
function(write_pkg_config name description requires libs)
  set(PC_NAME ${name})
  set(PC_DESCRIPTION ${description})
  set(PC_REQUIRES ${requires})
  set(PC_LIBS ${libs})
  configure_file(cmake/library.pc.in ${PROJECT_BINARY_DIR}/${name}.pc @ONLY)
  install(FILES ${PROJECT_BINARY_DIR}/${name}.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endfunction()
write_pkg_config(tinyladder "Core: from pin to trustworthy number" "" "-ltinyladder")
