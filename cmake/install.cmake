# Three static libraries and one shared one that holds them all, with their headers, a CMake package, pkg-config files, the command, its page and the demo data.
include(CMakePackageConfigHelpers)

install(TARGETS tinyladder tinyladder-design tinyladder-bench EXPORT tinyladder-targets
        ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(TARGETS tinyladder-host EXPORT tinyladder-targets LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(TARGETS tinyladder-command RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(DIRECTORY include/tinyladder DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(DIRECTORY schema DESTINATION ${CMAKE_INSTALL_DATADIR}/tinyladder)
install(DIRECTORY demo DESTINATION ${CMAKE_INSTALL_DATADIR}/tinyladder)
install(FILES docs/tinyladder.1 DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(FILES LICENSE README.md DESTINATION ${CMAKE_INSTALL_DOCDIR})

set(package_dir ${CMAKE_INSTALL_LIBDIR}/cmake/tinyladder)
install(EXPORT tinyladder-targets NAMESPACE tinyladder:: DESTINATION ${package_dir})
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
write_pkg_config(tinyladder-design "Netlist, sizing and plans" "tinyladder libfyaml lapacke" "-ltinyladder-design -lcsv -lm")
write_pkg_config(tinyladder-bench "Simulated hardware behind the port" "tinyladder-design" "-ltinyladder-bench")
write_pkg_config(tinyladder-host "Core, plans and bench in one shared library" "" "-ltinyladder-host")
