# SPDX-License-Identifier: MIT
# What runs on a PC: plans, sizing, rules, the bench, the command, the shared library.
find_package(PkgConfig REQUIRED)
pkg_check_modules(FYAML REQUIRED IMPORTED_TARGET libfyaml)
pkg_check_modules(JANSSON REQUIRED IMPORTED_TARGET jansson)
pkg_check_modules(CURSES REQUIRED IMPORTED_TARGET ncursesw)
pkg_check_modules(SQLITE REQUIRED IMPORTED_TARGET sqlite3)
pkg_check_modules(LAPACKE REQUIRED IMPORTED_TARGET lapacke)
find_library(CSV_LIBRARY csv REQUIRED) # libcsv has no pkg-config file

# The host's part, room by room from the ground up: docs/architecture.md.
add_library(design-rooms OBJECT
  src/base/findings.c src/base/marking.c src/base/memory.c src/base/nearest_name.c src/base/plain_text.c src/base/preferred.c
    src/base/quantity.c src/base/quantity_write.c src/base/replace_file.c src/base/stock.c
  src/circuit/bounds.c src/circuit/bounds_inside.c src/circuit/bounds_ends.c src/circuit/bridge.c src/circuit/cut.c src/circuit/decay.c src/circuit/cut_branch.c src/circuit/elements.c src/circuit/island.c src/circuit/lift.c src/circuit/narrowed.c src/circuit/netlist.c src/circuit/resistances.c src/circuit/rewire.c src/circuit/nodal.c src/circuit/response.c src/circuit/standards.c src/circuit/transient.c src/circuit/transient_steps.c
  src/sizing/divider_pair.c src/sizing/figures.c src/sizing/legs.c src/sizing/one_part.c src/sizing/practice.c src/sizing/ranking.c src/sizing/result.c src/sizing/size_capacitors.c src/sizing/size_contacts.c src/sizing/size_divider.c
    src/sizing/size_follower.c src/sizing/size_ladder.c src/sizing/size_loads.c src/sizing/size_mux.c src/sizing/size_ratio.c
    src/sizing/size_sensors.c src/sizing/shift_case.c src/sizing/size_shift.c src/sizing/size_shift_divider.c
  src/model/board.c src/model/output_load.c src/model/parts.c src/model/pin_use.c src/model/plan.c src/model/sensor_law.c src/model/settings.c
  src/model/check_keys.c src/model/csv_file.c src/model/keys_chain.c src/model/keys_parts.c src/model/keys_plan.c src/model/keys_scene.c src/base/edit.c src/reader/read_board.c src/reader/read_converter.c src/reader/read_device.c
    src/reader/read_drawer.c src/reader/read_output.c src/reader/read_plan.c src/reader/read_rails.c
    src/reader/read_reading.c src/reader/read_registers.c src/reader/read_source.c src/reader/read_stage.c
    src/reader/read_sweep.c src/reader/read_module.c src/reader/read_table.c src/reader/read_choice.c src/reader/read_wiring.c src/reader/read_names.c src/reader/read_limits.c src/reader/added.c src/model/take.c src/model/take_keys.c
    src/base/yaml_tree.c
  src/elaborate/by_voltage.c src/elaborate/point_name.c src/elaborate/chain_end.c src/elaborate/chain_output.c src/elaborate/chain_source.c src/elaborate/chain_stage.c src/elaborate/narrow.c src/elaborate/placing.c src/elaborate/circuit.c
    src/elaborate/soldered.c
  src/scene/fault_names.c
  src/scene/faults_of_plan.c src/scene/read_fault.c src/scene/read_scene.c
  src/scene/read_rewired.c src/scene/read_setting.c src/scene/scene_meters.c src/scene/read_waveform.c
  src/analysis/as_written.c src/analysis/ask.c src/analysis/calibration.c src/analysis/channel.c src/analysis/edge.c src/analysis/kept.c src/analysis/rhythm_value.c src/analysis/segments.c src/analysis/settling.c src/analysis/inverse.c src/analysis/trimmed.c src/analysis/value.c
    src/analysis/word_make.c src/analysis/why.c src/analysis/with_meter.c src/analysis/worst_case.c src/analysis/worst_part.c src/analysis/worst_output.c
  src/firmware/fit_curve.c src/firmware/fit_line.c src/firmware/count_facts.c src/firmware/header.c src/firmware/header_text.c src/firmware/header_analog.c src/firmware/header_inputs.c src/firmware/header_lines.c
    src/firmware/header_outputs.c src/firmware/header_wiring.c src/firmware/provenance.c
  src/proposals/compare.c src/proposals/facts.c src/proposals/jobs.c src/proposals/mend.c src/proposals/part_find.c src/proposals/part_in_plan.c src/proposals/question.c src/proposals/resize.c src/proposals/question_sensors.c src/proposals/question_shared.c src/proposals/question_contacts.c src/proposals/question_loads.c src/proposals/question_lines.c src/proposals/trial.c src/proposals/vary.c src/rules/check.c src/rules/check_acquisition.c src/rules/check_analog.c src/rules/check_buses.c src/rules/check_levels.c src/rules/check_converters.c
  src/rules/check_digits.c src/rules/check_fix.c
    src/rules/check_limits.c src/rules/check_muxes.c src/rules/check_outputs.c src/rules/check_duty.c src/rules/check_heat.c
  src/rules/check_reach.c
    src/rules/check_readings.c src/rules/check_shifters.c src/rules/check_supplies.c src/rules/check_wiring.c src/rules/checker.c src/rules/file_rule_table.c src/rules/rule_table.c)
# Simulated hardware behind the port.
add_library(bench-rooms OBJECT
  src/bench/bench.c src/bench/bench_port.c src/bench/bench_read.c src/bench/shown.c src/bench/bus.c src/bench/bus_i2c.c
  src/bench/bus_spi.c src/bench/conversion.c src/bench/damage.c src/bench/events.c src/bench/feeds.c src/bench/hand.c src/bench/leaks.c src/bench/quiet.c src/bench/live_island.c src/bench/islands.c src/bench/levels.c src/bench/floating.c src/bench/scene_faults.c src/bench/bench_clock.c src/bench/loads.c src/bench/pins.c src/bench/power_off.c
  src/bench/rhythm_reading.c src/bench/rhythms.c src/bench/bench_lines.c src/bench/load_currents.c src/bench/misread.c src/bench/routes.c src/bench/sensors.c src/bench/solder.c src/bench/states.c src/bench/stimuli.c src/bench/unpowered.c)
set(host_needs m PkgConfig::FYAML PkgConfig::LAPACKE ${CSV_LIBRARY})
foreach(rooms design-rooms bench-rooms)
  target_include_directories(${rooms} PUBLIC ${CMAKE_CURRENT_SOURCE_DIR}/include ${CMAKE_CURRENT_SOURCE_DIR}/src)
  target_link_libraries(${rooms} PUBLIC ${host_needs})
  set_target_properties(${rooms} PROPERTIES POSITION_INDEPENDENT_CODE ON)
endforeach()

# All rooms with all their names, for the command and the tests, which look inside.
add_library(tinyladder-rooms STATIC $<TARGET_OBJECTS:design-rooms> $<TARGET_OBJECTS:bench-rooms>)
target_include_directories(tinyladder-rooms PUBLIC ${CMAKE_CURRENT_SOURCE_DIR}/include ${CMAKE_CURRENT_SOURCE_DIR}/src)
target_link_libraries(tinyladder-rooms PUBLIC tinyladder ${host_needs})

# What is installed has the names of the public headers and no other: abi/host.map lists them. The bench's library has
# the plan's rooms inside; linked together with tinyladder-design it gives way to it.
function(public_library name)
  add_custom_command(OUTPUT ${name}.o
    COMMAND ${CMAKE_CURRENT_SOURCE_DIR}/scripts/public-object.sh ${CMAKE_CURRENT_BINARY_DIR}/${name}.o
      "${CMAKE_LINKER}" "${CMAKE_OBJCOPY}" ${ARGN} "$<TARGET_OBJECTS:design-rooms>"
    DEPENDS tinyladder-rooms abi/host.map scripts/public-object.sh
    COMMAND_EXPAND_LISTS VERBATIM)
  add_library(${name} STATIC ${CMAKE_CURRENT_BINARY_DIR}/${name}.o)
  set_target_properties(${name} PROPERTIES LINKER_LANGUAGE C)
  set_source_files_properties(${CMAKE_CURRENT_BINARY_DIR}/${name}.o PROPERTIES EXTERNAL_OBJECT TRUE GENERATED TRUE)
  target_include_directories(${name} PUBLIC
    $<BUILD_INTERFACE:${CMAKE_CURRENT_SOURCE_DIR}/include> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
  target_link_libraries(${name} PUBLIC tinyladder m PRIVATE PkgConfig::FYAML PkgConfig::LAPACKE ${CSV_LIBRARY})
endfunction()
public_library(tinyladder-design)
public_library(tinyladder-bench $<TARGET_OBJECTS:bench-rooms>)

# All three in one, for programs that load it: core, plans and bench. A call that is taken away, or takes other
# arguments, is another ABI: a higher number here, then `make abi`.
set(TINYLADDER_ABI 2)
set_target_properties(tinyladder PROPERTIES POSITION_INDEPENDENT_CODE ON)
add_library(tinyladder-host SHARED $<TARGET_OBJECTS:tinyladder> $<TARGET_OBJECTS:design-rooms>
            $<TARGET_OBJECTS:bench-rooms>)
set_target_properties(tinyladder-host PROPERTIES VERSION ${TINYLADDER_ABI}.${PROJECT_VERSION_MINOR}.${PROJECT_VERSION_PATCH}
                      SOVERSION ${TINYLADDER_ABI} LINK_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/abi/host.map)
target_link_options(tinyladder-host PRIVATE LINKER:--version-script=${CMAKE_CURRENT_SOURCE_DIR}/abi/host.map)
target_link_libraries(tinyladder-host PRIVATE m PkgConfig::FYAML PkgConfig::LAPACKE ${CSV_LIBRARY})
target_include_directories(tinyladder-host PUBLIC
  $<BUILD_INTERFACE:${CMAKE_CURRENT_SOURCE_DIR}/include> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)

# The command.
add_executable(tinyladder-command
  src/printing/changes.c src/printing/columns.c src/printing/helper_program.c src/printing/json_answer.c src/printing/options.c src/printing/print.c src/printing/row_ranges.c src/printing/tables.c
  src/broker/mqtt_address.c
  src/reading/convert_counts.c src/reading/convert_stream.c src/reading/count_format.c src/reading/count_taken.c src/reading/counts.c
    src/reading/counts_source.c src/reading/damages.c src/reading/ending.c src/reading/expect.c src/reading/explain_hint.c
    src/reading/mystery.c src/reading/sight.c src/reading/outputs.c src/reading/playing.c src/reading/read_meter.c src/reading/read_seeds.c src/reading/read_why.c src/reading/reading_tables.c src/reading/readings.c
    src/reading/taker.c src/reading/trim_counts.c src/reading/trim_curve.c src/reading/trim_pairs.c src/reading/trim_print.c
  src/explain/cause_words.c src/explain/hypotheses.c src/explain/next.c src/explain/observed.c src/explain/rehearsal.c src/explain/predict.c src/explain/situation_scene.c src/explain/seen_figures.c src/explain/likelihood.c src/explain/rank.c src/explain/touch.c
  src/record/chart.c src/record/chart_script.c src/record/gnuplot.c src/record/record_file.c src/record/record_row.c
  src/publish/publish.c src/sheet/wiring.c src/sheet/wiring_chips.c src/sheet/wiring_rows.c src/sheet/wiring_nets.c src/sheet/wiring_print.c
  src/watch/terminal.c src/watch/watch_hand.c src/watch/watch_look.c src/watch/watch_screen.c
  src/cli/main.c src/cli/check_tables.c src/cli/check_vary.c src/cli/convert_answer.c src/cli/demo_data.c src/cli/new_board.c src/cli/other_names.c src/cli/read_vary.c src/cli/size_compare.c src/cli/size_plan.c src/cli/size_print.c
    src/cli/size_values.c src/cli/verb_check.c src/cli/verb_completion.c src/cli/verb_convert.c
    src/cli/verb_demo.c src/cli/verb_header.c src/cli/verb_new.c src/cli/verb_pins.c src/cli/verb_plot.c
    src/cli/verb_read.c src/cli/verb_record.c src/cli/verb_size.c src/cli/verb_trim.c src/cli/explain_ask.c src/cli/explain_gather.c src/cli/explain_print.c src/cli/verb_explain.c src/cli/verb_sheet.c src/cli/verb_watch.c
    src/cli/verb_word.c)
set_target_properties(tinyladder-command PROPERTIES OUTPUT_NAME tinyladder)
target_compile_definitions(tinyladder-command PRIVATE TL_VERSION="${PROJECT_VERSION}")
target_link_libraries(tinyladder-command PRIVATE tinyladder-rooms PkgConfig::JANSSON PkgConfig::SQLITE PkgConfig::CURSES ${CSV_LIBRARY})

# The bench behind a socket, for programs in other languages.
add_executable(tinyladder-bench-socket src/listen/bench_main.c src/listen/calls.c src/listen/socket.c)
set_target_properties(tinyladder-bench-socket PROPERTIES OUTPUT_NAME tinyladder-bench)
target_link_libraries(tinyladder-bench-socket PRIVATE tinyladder-rooms PkgConfig::JANSSON)

# Handing values on is a program of its own: loading the library would cost every verb its start.
pkg_check_modules(MOSQUITTO IMPORTED_TARGET libmosquitto)
if(MOSQUITTO_FOUND)
  add_executable(tinyladder-publish src/broker/publish_helper.c src/broker/mqtt_login.c)
  add_executable(tinyladder-listen src/broker/listen_helper.c src/broker/mqtt_login.c)
  foreach(helper tinyladder-publish tinyladder-listen)
    target_include_directories(${helper} PRIVATE src)
    target_link_libraries(${helper} PRIVATE PkgConfig::MOSQUITTO)
  endforeach()
  install(TARGETS tinyladder-publish tinyladder-listen DESTINATION ${CMAKE_INSTALL_LIBEXECDIR}/tinyladder)
else()
  message(STATUS "left out: --publish and --counts mqtt://, which need libmosquitto")
endif()

# So is drawing.
include(cmake/embed.cmake)
embed(sheet_drawing_css src/sheet/sheet_drawing.css)
embed(sheet_page_css src/sheet/sheet_page.css)
embed(sheet_page_js src/sheet/sheet_page.js)
pkg_check_modules(PANGOCAIRO IMPORTED_TARGET pangocairo)
set(SHEET_SOURCES src/sheet/canvas.c src/sheet/chain.c src/sheet/chip.c src/sheet/checked.c src/sheet/checkpoints.c src/sheet/list_words.c src/sheet/pen.c src/sheet/pen_svg.c src/sheet/sheet.c
  src/sheet/sheet_circuits.c src/sheet/placement.c src/sheet/sheet_drawing.c src/sheet/sheet_grid.c src/sheet/sheet_header.c src/sheet/sheet_lists.c
  src/sheet/sheet_html.c src/sheet/sheet_notes.c src/sheet/sheet_page.c src/sheet/sheet_text.c src/sheet/strip.c src/sheet/symbols.c src/sheet/wiring.c src/sheet/wiring_chips.c
  src/sheet/wiring_rows.c
  ${CMAKE_BINARY_DIR}/embedded/sheet_drawing_css.c ${CMAKE_BINARY_DIR}/embedded/sheet_page_css.c ${CMAKE_BINARY_DIR}/embedded/sheet_page_js.c)
if(PANGOCAIRO_FOUND)
  list(APPEND SHEET_SOURCES src/sheet/paper_cairo.c src/sheet/pen_cairo.c)
else()
  list(APPEND SHEET_SOURCES src/sheet/paper_missing.c)
  message(STATUS "left out: sheet -o FILE.pdf, .svg and .png, which need pangocairo")
endif()
add_executable(tinyladder-sheet ${SHEET_SOURCES} src/sheet/sheet_helper.c src/printing/columns.c
  src/printing/json_answer.c src/printing/options.c src/printing/print.c src/printing/row_ranges.c src/printing/tables.c)
target_link_libraries(tinyladder-sheet PRIVATE tinyladder-rooms PkgConfig::JANSSON)
if(PANGOCAIRO_FOUND)
  target_link_libraries(tinyladder-sheet PRIVATE PkgConfig::PANGOCAIRO)
endif()
install(TARGETS tinyladder-sheet DESTINATION ${CMAKE_INSTALL_LIBEXECDIR}/tinyladder)

# What the key tables say, for editors and for the reference: `make keys`.
add_executable(write-keys tools/write_keys.c)
target_link_libraries(write-keys PRIVATE tinyladder-rooms PkgConfig::JANSSON)

# A compiled program on the simulated bench: of an 8-bit chip by one simulator, of Cortex-M0 and RV32 by another.
# Chips' names stand in targets.mk alone.
function(target_setting name out)
  file(STRINGS targets.mk line REGEX "^${name} := ")
  string(REGEX REPLACE ".* := " "" value "${line}")
  set(${out} "${value}" PARENT_SCOPE)
endfunction()
find_library(SIMAVR_LIBRARY simavr)
find_library(ELF_LIBRARY elf)
find_library(UNICORN_LIBRARY unicorn)
if(ELF_LIBRARY AND (SIMAVR_LIBRARY OR UNICORN_LIBRARY))
  add_executable(tinyladder-bench-run ports/bench/bench_run.c ports/bench/chip.c ports/bench/chip_lines.c
    ports/bench/chip_settings.c ports/bench/chip_two_wire.c)
  target_link_libraries(tinyladder-bench-run PRIVATE tinyladder-bench ${ELF_LIBRARY})
  install(TARGETS tinyladder-bench-run RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
else()
  message(STATUS "left out: bench-run, which needs libelf and libsimavr or libunicorn")
endif()
if(ELF_LIBRARY AND SIMAVR_LIBRARY)
  target_setting(AVR_CHIP chip)
  target_setting(AVR_HERTZ hertz)
  target_sources(tinyladder-bench-run PRIVATE ports/bench/avr_chip.c ports/bench/avr_buses.c)
  target_compile_definitions(tinyladder-bench-run PRIVATE BENCH_RUN_AVR="${chip}" BENCH_RUN_AVR_HERTZ=${hertz})
  target_link_libraries(tinyladder-bench-run PRIVATE ${SIMAVR_LIBRARY})
elseif(ELF_LIBRARY AND UNICORN_LIBRARY)
  message(STATUS "left out: programs of an AVR in bench-run, which need libsimavr")
endif()
if(ELF_LIBRARY AND UNICORN_LIBRARY)
  target_setting(ARM_HERTZ hertz)
  target_sources(tinyladder-bench-run PRIVATE ports/bench/stand_in.c ports/bench/stand_in_registers.c)
  target_compile_definitions(tinyladder-bench-run PRIVATE BENCH_RUN_STAND_IN=${hertz})
  target_link_libraries(tinyladder-bench-run PRIVATE ${UNICORN_LIBRARY})
elseif(ELF_LIBRARY AND SIMAVR_LIBRARY)
  message(STATUS "left out: programs of Cortex-M0 and RV32 in bench-run, which need libunicorn")
endif()
