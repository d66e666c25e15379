/* SPDX-License-Identifier: MIT */
/* Programs of others, built against what is installed, and against the core in one file: by pkg-config, by
 * CMake, by a plain Makefile, in C++17. And the core alone, where nothing else is there. */
#include "support.h"
#include <stdio.h>
#include <string.h>

#define OUTSIDE TL_SCRATCH "/outside"
#define PREFIX OUTSIDE "/prefix"

static run_result sh(const char *script)
{
    const char *const words[] = {"sh", "-ec", script, NULL};
    return run_program(words, TL_SOURCE);
}

/* What the script says, or what it complains of. */
static void check_script(const char *name, const char *script, const char *says)
{
    run_result r = sh(script);
    const char *at = strstr(r.out, says);
    const bool good = r.status == 0 && at != NULL && (strncmp(says, "alone: ", 7) != 0 || at == r.out);
    CHECK_ROW(name, good);
    if (!good)
        printf("\n  %s: %d\n%s%s", name, r.status, r.out, r.err);
    run_free(&r);
}

#define MAIN_C                                                                                               \
    "#include <tinyladder/core.h>\n#include <tinyladder/version.h>\n#include <stdio.h>\nint main(void)\n{\n" \
    "    char text[8];\n    (void)tl_text_fixed(1270, 2, 6, text);\n    printf(\"%s\\n\", text);\n    "      \
    "return "                                                                                                \
    "TINYLADDER_VERSION < 100;\n}\n"
#define BENCH_C                                                                                              \
    "#include <tinyladder/bench.h>\n#include <stdio.h>\nint main(int argc, char **argv)\n{\n    tl_bench "   \
    "*b = "                                                                                                  \
    "tl_bench_open(argv[argc - 1], NULL, NULL);\n    printf(\"%s\\n\", b != NULL ? \"opened\" : \"no\");\n " \
    "   "                                                                                                    \
    "tl_bench_free(b);\n    return 0;\n}\n"

static void are_built_against_what_is_installed(void)
{
#ifndef TL_SANITIZED /* whose libraries link into programs of their kind only */
    check_script("install",
                 "rm -rf " OUTSIDE "; mkdir -p " OUTSIDE "; cmake --install " TL_BUILD " --prefix " PREFIX
                 " | tail -1",
                 "Installing");
    scratch_file("outside/main.c", MAIN_C, strlen(MAIN_C));
    scratch_file("outside/bench.c", BENCH_C, strlen(BENCH_C));
    static const struct {
        const char *name, *script, *says;
    } rows[] = {
        {"pkg-config",
         "cd " OUTSIDE "; export PKG_CONFIG_PATH=$(dirname $(find prefix -name tinyladder.pc))\n"
         "cc -std=c11 main.c $(pkg-config --cflags --libs tinyladder) -o by-pkg && ./by-pkg",
         " 12.70"},
        {"C++17",
         "cd " OUTSIDE "; export PKG_CONFIG_PATH=$(dirname $(find prefix -name tinyladder.pc))\n"
         "c++ -std=c++17 -Wall -Wextra -Wpedantic -Werror -x c++ main.c -x none $(pkg-config --cflags --libs "
         "tinyladder) -o "
         "by-cpp && ./by-cpp",
         " 12.70"},
        {"a plain Makefile",
         "cd " OUTSIDE "; printf 'CFLAGS = -Iprefix/include\\nmain: main.c '$(find prefix -name "
         "libtinyladder.a)'\\n' >Makefile; make -s && ./main",
         " 12.70"},
        {"its sources",
         "cd " OUTSIDE
         "; cc -std=c11 -Iprefix/include main.c prefix/share/tinyladder/core/*.c -o by-source && "
         "./by-source",
         " 12.70"},
        {"CMake, the core",
         "cd " OUTSIDE
         "; mkdir core; cp main.c core; printf 'cmake_minimum_required(VERSION 3.20)\\nproject(o C)\\n"
         "find_package(tinyladder 0.1 REQUIRED COMPONENTS core)\\nadd_executable(o "
         "main.c)\\ntarget_link_libraries(o "
         "PRIVATE tinyladder::core)\\nif(TARGET tinyladder::bench)\\nmessage(FATAL_ERROR "
         "host)\\n"
         "endif()\\n' >core/CMakeLists.txt\ncmake -S core -B core/b -DCMAKE_PREFIX_PATH=" PREFIX
         " >log 2>&1 || { cat log; exit 1; }; cmake --build core/b >log && core/b/o",
         " 12.70"},
        {"CMake, the host",
         "cd " OUTSIDE
         "; mkdir host; cp bench.c host; printf 'cmake_minimum_required(VERSION 3.20)\\nproject(o C)\\n"
         "find_package(tinyladder REQUIRED COMPONENTS core bench)\\nadd_executable(o "
         "bench.c)\\ntarget_link_libraries(o "
         "PRIVATE tinyladder::bench)\\n' >host/CMakeLists.txt\ncmake -S host -B host/b "
         "-DCMAKE_PREFIX_PATH=" PREFIX
         " >log 2>&1 || { cat log; exit 1; }; cmake --build host/b >log && host/b/o " PREFIX
         "/share/tinyladder/demo/fernhill.plan.yaml",
         "opened"},
        {"CMake, among the sources of another project",
         "cd " OUTSIDE "; mkdir inside; cp bench.c main.c inside; printf 'cmake_minimum_required(VERSION "
         "3.20)\\nproject(o C)\\n"
         "add_subdirectory(" TL_SOURCE " ladder EXCLUDE_FROM_ALL)\\n"
         "add_executable(core main.c)\\ntarget_link_libraries(core PRIVATE tinyladder::core)\\n"
         "add_executable(one bench.c)\\ntarget_link_libraries(one PRIVATE tinyladder::bench "
         "tinyladder::design)\\n"
         "add_executable(two bench.c)\\ntarget_link_libraries(two PRIVATE tinyladder::host)\\n' "
         ">inside/CMakeLists.txt\ncmake -S inside -B inside/b >log 2>&1 || { cat log; exit 1; }; "
         "cmake --build inside/b -j2 >log 2>&1 || { cat log; exit 1; }; inside/b/core; for p in one two; do "
         "inside/b/$p " TL_SOURCE "/demo/fernhill.plan.yaml; done",
         " 12.70\nopened\nopened\n"},
        {"the shared library",
         "cd " OUTSIDE "; export PKG_CONFIG_PATH=$(dirname $(find prefix -name tinyladder.pc))\n"
         "cc -std=c11 bench.c $(pkg-config --cflags --libs tinyladder-host) -o by-shared && "
         "LD_LIBRARY_PATH=$(dirname "
         "$(find prefix -name 'libtinyladder-host.so' | head -1)) ./by-shared " PREFIX
         "/share/tinyladder/demo/fernhill.plan.yaml",
         "opened"},
    };
    for (size_t i = 0; i < ROWS(rows); i++)
        check_script(rows[i].name, rows[i].script, rows[i].says);
    check_script("links of what is installed",
                 "/usr/bin/python3 tests/cli/links.py " PREFIX "/share/doc/tinyladder " PREFIX
                 "/share/tinyladder/ports " PREFIX
                 "/share/tinyladder/examples | tee /dev/fd/2 | grep -c . ; test -e " PREFIX
                 "/share/man/man1/tinyladder-check.1 >/dev/null",
                 "1\n");
    check_script(
        "docs/c-api.md",
        "cd " OUTSIDE "; export PKG_CONFIG_PATH=$(dirname $(find prefix -name tinyladder.pc)) "
        "LD_LIBRARY_PATH=$(dirname $(find prefix -name 'libtinyladder-host.so' | head -1))\n"
        "awk '/^```c$/ { f = \"api\" ++n \".c\"; next } /^```text$/ { f = \"api\" n \".txt\"; next } /^```/ "
        "{ f = \"\" } f != \"\" { print >f }' " TL_SOURCE "/docs/c-api.md\n"
        "for i in 1 2 3; do cc -std=c11 -Wall -Wextra -Werror api$i.c $(pkg-config --cflags --libs "
        "tinyladder-host) -o api$i; done; D=prefix/share/tinyladder/demo\n"
        "./api1 >api1.out; ./api2 $D/faulty/over-limit.plan.yaml >api2.out; ./api3 $D/fernhill.plan.yaml "
        "$D/evening.scene.yaml >api3.out\nfor i in 1 2 3; do diff api$i.txt api$i.out; done; echo alike",
        "alike\n");
#endif
}

/* Nothing but a C compiler: no library of the host is looked for. */
static void the_core_stands_alone(void)
{
    if (THINNED > 1)
        return; /* the same whatever the library is made with */
    check_script("core only",
                 "rm -rf " TL_SCRATCH "/alone; cmake -S . -B " TL_SCRATCH
                 "/alone -DTINYLADDER_CORE_ONLY=ON -DCMAKE_SYSTEM_NAME=Generic | grep -c -i "
                 "'pkg-config\\|lapack\\|fyaml' || true; cmake --build " TL_SCRATCH
                 "/alone | tail -1; cmake --install " TL_SCRATCH "/alone --prefix " TL_SCRATCH
                 "/alone/p >/dev/null; find " TL_SCRATCH
                 "/alone/p -name '*bench*.[ah]' -not -path '*/ports/*' | wc -l",
                 "0\n[100%] Built target tinyladder\n0\n");
}

static const char firmware[] =
    "#include \"tinyladder.h\"\n#include \"fernhill_plan.h\"\n#include <stdio.h>\n"
    "static tl_status start(void *c, uint8_t n, uint8_t r, uint32_t ns) { (void)c, (void)n, (void)r, "
    "(void)ns; return TL_OK; }\n"
    "static tl_status ended(void *c, bool *e) { (void)c; *e = true; return TL_OK; }\n"
    "static tl_status word(void *c, uint32_t *w) { (void)c; *w = 3206; return TL_OK; }\n"
    "static tl_status clock_us(void *c, uint32_t *t) { (void)c; *t = 0; return TL_OK; }\n"
    "int main(void)\n{\n    static const tl_port_ops ops = {.conversion_start = "
    "start, .conversion_ended = ended, .conversion_word = word, .clock_us = clock_us};\n"
    "    tl_port_reader reader = {0};\n    const tl_port port = {&ops, 0, &reader};\n    tl_sample sample = "
    "{0};\n"
    "    char text[8];\n    house_battery_count count;\n    if (tl_input_sample(&port, &house_battery_input, "
    "&sample) != TL_OK || !house_battery_of(&sample, &count))\n        return 1;\n"
    "    (void)tl_text_fixed(house_battery_value(count), HOUSE_BATTERY_DECIMALS, 6, text);\n"
    "    printf(\"%s %s, %u %%\\n\", text, HOUSE_BATTERY_UNIT, house_battery_percent(count));\n"
    "    return 0;\n}\n";

/* 3206 of 4096 counts of 3.3 V behind 47k and 12k are 12.70 V; from 10.8 V to 12.9 V that is 90.45 %. */
static void one_file_is_enough(void)
{
    if (THINNED > 1)
        return; /* the same whatever the library is made with */
    check_script("amalgam",
                 "rm -rf " TL_SCRATCH "/one; mkdir -p " TL_SCRATCH "/one; scripts/amalgam.py " TL_SCRATCH
                 "/one; " TL_BUILD "/tinyladder header demo/fernhill.plan.yaml -o " TL_SCRATCH
                 "/one/fernhill_plan.h >/dev/null; "
                 "ls " TL_SCRATCH "/one | wc -l",
                 "3");
    scratch_file("one/firmware.c", firmware, strlen(firmware));
    check_script("firmware of it",
                 "cd " TL_SCRATCH "/one; cc -std=c11 -Wall -Wextra -Wconversion -Wshadow -Wpedantic -Werror "
                 "firmware.c tinyladder.c -o firmware && ./firmware",
                 " 12.70 V, 90 %");
}

static void every_link_leads_somewhere(void)
{
    if (THINNED > 1)
        return; /* the same whatever the library is made with */
    check_script(
        "links of the sources",
        "/usr/bin/python3 tests/cli/links.py README.md CHANGELOG.md CONTRIBUTING.md docs ports examples | "
        "sed 's/^[0-9]* links/alone: links/'",
        "alone: links\n");
}

static void the_headers_are_pages(void)
{
    if (THINNED > 1)
        return; /* the same whatever the library is made with */
    check_script("examples of the headers",
                 "/usr/bin/python3 tests/cli/header_examples.py " TL_SCRATCH "/headers cc; "
                 "find include -name '*.h' | wc -l",
                 "50 examples compile\n50\n");
    check_script("pages of the headers",
                 "scripts/headers.sh " TL_SCRATCH "/pages; ls " TL_SCRATCH "/pages/html/*_8h.html | wc -l",
                 "50\n");
}

CU_TestInfo install_tests[] = {
    {"every link leads somewhere", every_link_leads_somewhere},
    {"the headers are pages", the_headers_are_pages},
    {"are built against what is installed", are_built_against_what_is_installed},
    {"the core stands alone", the_core_stands_alone},
    {"one file is enough", one_file_is_enough},
    CU_TEST_INFO_NULL,
};
