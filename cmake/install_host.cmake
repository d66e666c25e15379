# SPDX-License-Identifier: MIT
# The host's part: two static libraries and a shared one that holds everything, the command, its page and the demo data.
install(TARGETS tinyladder-design tinyladder-bench EXPORT tinyladder-host-targets
        ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(TARGETS tinyladder-host EXPORT tinyladder-host-targets LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
install(EXPORT tinyladder-host-targets NAMESPACE tinyladder:: DESTINATION ${package_dir})
install(TARGETS tinyladder-command tinyladder-bench-socket RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(TARGETS ${helpers} DESTINATION ${CMAKE_INSTALL_LIBEXECDIR}/tinyladder)
if(TARGET tinyladder-bench-run)
  install(TARGETS tinyladder-bench-run RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
endif()
install(DIRECTORY include/tinyladder/design DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/tinyladder)
install(FILES include/tinyladder/bench.h DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/tinyladder)
write_pkg_config(tinyladder-design "Netlist, sizing and plans" "tinyladder libfyaml lapacke" "-ltinyladder-design -lcsv -lm")
write_pkg_config(tinyladder-bench "Simulated hardware behind the port" "tinyladder-design" "-ltinyladder-bench")
write_pkg_config(tinyladder-host "Core, plans and bench in one shared library" "" "-ltinyladder-host")
