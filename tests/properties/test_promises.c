/* SPDX-License-Identifier: MIT */
/* What those who build against the library may rely on: names, layouts, licences, what headers say of
 * themselves. */
#define _GNU_SOURCE
#include "support.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static void every_source_names_its_licence(void)
{
    run_result r = run_program(
        (const char *const[]){
            "/bin/sh", "-c",
            "find src include ports conformance tests tools examples scripts cmake perf docs "
            "Makefile targets.mk CMakeLists.txt .ci/run -type f '(' -name '*.[chS]' -o -name '*.css' "
            "-o -name '*.js' -o -name '*.inc' -o -name '*.ld' -o -name '*.sh' -o -name '*.py' -o "
            "-name '*.cmake' -o -name '*.mk' -o -name CMakeLists.txt -o -name Makefile -o "
            "-path '*.ci/run' ')' | tee /dev/fd/2 | while read f; do "
            "head -2 \"$f\" | grep -q 'SPDX-License-Identifier: MIT' || echo \"$f\"; done",
            NULL},
        TL_SOURCE);
    CU_ASSERT(r.status == 0 && strlen(r.err) > 10000); /* it did look */
    CU_ASSERT_STRING_EQUAL(r.out, "");
    run_free(&r);
}

/* Whoever raised TINYLADDER_ABI because of it, or only added something: make abi. */
static void layouts_are_those_of_the_abi(void)
{
#if !defined TL_SANITIZED && defined __x86_64__ && !defined __clang__
    run_result r =
        run_program((const char *const[]){"/bin/sh", "-c",
                                          "scripts/abi_layout.py " TL_BUILD
                                          "/libtinyladder-host.so | tee /dev/fd/2 | diff abi/host.layout -",
                                          NULL},
                    TL_SOURCE);
    CU_ASSERT(r.status == 0 && strlen(r.err) > 20000);
    CU_ASSERT_STRING_EQUAL(r.out, "");
    run_free(&r);
#endif
}

/* Each public header says what is stable in it. */
static void headers_say_what_is_stable(void)
{
    run_result r = run_program(
        (const char *const[]){"/bin/sh", "-c", "grep -rL '^ \\* Stable: ' include", NULL}, TL_SOURCE);
    CU_ASSERT_STRING_EQUAL(r.out, "");
    run_free(&r);
}

/* A static library stands beside other people's names: of ours it has those of the public headers alone. The
 * core's few inner names are left, since its files are linked one by one into small chips; they begin as ours
 * do. */
static void static_libraries_keep_to_the_headers(void)
{
    static const char *const libraries[] = {"libtinyladder-design.a", "libtinyladder-bench.a"};
    char *kept = text_of(TL_SOURCE "/abi/host.map");
    for (size_t l = 0; l < ROWS(libraries); l++) {
        run_result r = run_program(
            (const char *const[]){"nm", "-P", "-g", "--defined-only", libraries[l], NULL}, TL_BUILD);
        char *save = NULL, name[100], entry[110];
        int count = 0;
        for (char *line = strtok_r(r.out, "\n", &save); line != NULL; line = strtok_r(NULL, "\n", &save)) {
            if (sscanf(line, "%99s %*c", name) != 1 || strchr(name, '[') != NULL ||
                strncmp(name, "__", 2) == 0)
                continue;
            snprintf(entry, sizeof entry, " %s;\n", name);
            CHECK_ROW(name, strstr(kept, entry) != NULL);
            count++;
        }
        CHECK_ROW(libraries[l], count > 100);
        run_free(&r);
    }
    free(kept);
}

/* The shared library exports what the public headers declare, no more and no less, and can be loaded. */
static void the_shared_library_keeps_its_promises(void)
{
    run_result of_headers = run_program((const char *const[]){"scripts/abi.sh", NULL}, TL_SOURCE);
    char *kept = text_of(TL_SOURCE "/abi/host.map");
    CU_ASSERT(of_headers.status == 0 && strcmp(of_headers.out, kept) == 0); /* else: make abi */
    run_result given = run_program(
        (const char *const[]){"nm", "-D", "--defined-only", TL_BUILD "/libtinyladder-host.so", NULL},
        TL_SOURCE);
    int promised = 0, exported = 0;
    char line[200], name[100];
    for (const char *at = kept; (at = strstr(at, "    tl_")) != NULL; at++, promised++) {
        CU_ASSERT_FATAL(sscanf(at, " %99[a-z0-9_];", name) == 1);
        snprintf(line, sizeof line, " %s@@TINYLADDER_", name);
        CHECK_ROW(name, strstr(given.out, line) != NULL);
    }
    for (const char *at = given.out; (at = strstr(at, " tl_")) != NULL; at++)
        exported += at[-1] == 'T' || at[-1] == 'D' || at[-1] == 'R';
    CU_ASSERT(promised == exported && promised > 300);
    run_free(&of_headers);
    run_free(&given);
    free(kept);
#ifndef TL_SANITIZED /* whose libraries only load into programs of their kind */
    static const char program[] =
        "import ctypes\n"
        "l = ctypes.CDLL('" TL_BUILD "/libtinyladder-host.so')\n"
        "l.tl_bench_open.restype = ctypes.c_void_p\n"
        "l.tl_bench_pin_volts.restype = ctypes.c_double\n"
        "b = ctypes.c_void_p(l.tl_bench_open(b'demo/fernhill.plan.yaml', b'demo/evening.scene.yaml', None))\n"
        "print(round(l.tl_bench_pin_volts(b, 0), 1))\n";
    run_result loaded = run_program((const char *const[]){"python3", "-c", program, NULL}, TL_SOURCE);
    CU_ASSERT(loaded.status == 0 && strcmp(loaded.out, "2.6\n") == 0);
    run_free(&loaded);
#endif
}

/* A header's guard is its own name. */
static void guards_are_of_their_files(void)
{
    run_result r = run_program(
        (const char *const[]){"/bin/sh", "-c",
                              "for f in src/*/*.h; do g=TL_$(basename $f .h | tr a-z A-Z)_H; "
                              "grep -q \"^#ifndef $g\" $f && grep -q \"^#define $g\" $f || echo $f; done; "
                              "ls src/*/*.h | wc -l >&2",
                              NULL},
        TL_SOURCE);
    CU_ASSERT(r.status == 0 && atoi(r.err) > 30);
    CU_ASSERT_STRING_EQUAL(r.out, "");
    run_free(&r);
}

CU_TestInfo promises_tests[] = {
    {"every source names its licence", every_source_names_its_licence},
    {"layouts are those of the ABI", layouts_are_those_of_the_abi},
    {"headers say what is stable", headers_say_what_is_stable},
    {"static libraries keep to the headers", static_libraries_keep_to_the_headers},
    {"the shared library keeps its promises", the_shared_library_keeps_its_promises},
    {"guards are of their files", guards_are_of_their_files},
    CU_TEST_INFO_NULL,
};
