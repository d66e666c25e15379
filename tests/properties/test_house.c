/* SPDX-License-Identifier: MIT */
/*
 * The house of docs/architecture.md: rooms from the ground up, and arrows point down only. Read from the
 * includes, and from what the linker sees, so that no declaration by hand gets around it.
 */
#define _GNU_SOURCE
#include "support.h"
#include <dirent.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

/* src/rooms.txt: from the ground up; a room may lean on those before it. */
enum { ROOMS_MOST = 32, PROMISES_MOST = 40 };
static char rooms[ROOMS_MOST][24];
static int room_count;

/* Public headers, and the room whose files keep their promises. Those not listed are the core's. */
static struct {
    char header[48];
    int room;
} promises[PROMISES_MOST];
static int promise_count;

enum { FILES_MOST = 800, LINES_MOST = 550 /* a table of options may be so long */ };
typedef struct {
    char name[64]; /* such as read_board.c */
    int room;
} source_file;
static source_file files[FILES_MOST];
static int file_count;

static int room_of(const char *name)
{
    for (int i = 0; i < room_count; i++) {
        if (strcmp(rooms[i], name) == 0)
            return i;
    }
    return -1;
}

static void read_rooms(void)
{
    char line[400], *save = NULL;
    FILE *text = fopen(TL_SOURCE "/src/rooms.txt", "r");
    CU_ASSERT_FATAL(text != NULL);
    room_count = promise_count = 0;
    while (fgets(line, sizeof line, text) != NULL) {
        char *word = strtok_r(line, ": \n", &save);
        if (word == NULL || word[0] == '#')
            continue;
        CU_ASSERT_FATAL(room_count < ROOMS_MOST);
        snprintf(rooms[room_count++], sizeof rooms[0], "%.20s", word);
        while ((word = strtok_r(NULL, ": \n", &save)) != NULL) {
            CU_ASSERT_FATAL(promise_count < PROMISES_MOST);
            snprintf(promises[promise_count].header, sizeof promises[0].header, "%.46s", word);
            promises[promise_count++].room = room_count - 1;
        }
    }
    fclose(text);
    CU_ASSERT(room_count > 10 && promise_count > 10);
}

static void list_files(void)
{
    read_rooms();
    file_count = 0;
    for (int room = 0; room < room_count; room++) {
        char path[700];
        snprintf(path, sizeof path, "%.400s/src/%.20s", TL_SOURCE, rooms[room]);
        DIR *folder = opendir(path);
        CU_ASSERT_FATAL(folder != NULL);
        for (const struct dirent *entry; (entry = readdir(folder)) != NULL;) {
            const char *end = strrchr(entry->d_name, '.');
            if (end == NULL || (strcmp(end, ".c") != 0 && strcmp(end, ".h") != 0))
                continue;
            CU_ASSERT_FATAL(file_count < FILES_MOST);
            files[file_count].room = room;
            snprintf(files[file_count++].name, sizeof files[0].name, "%.60s", entry->d_name);
        }
        closedir(folder);
    }
    CU_ASSERT(file_count > 100);
}

/* `room/file.h`, or a public header; -1 for the system's. */
static int room_of_include(const char *named, int own)
{
    /* The core's files are copied into firmware as they are: they find each other without a room. */
    for (int i = 0; i < file_count && own == room_of("core"); i++) {
        if (files[i].room == own && strcmp(files[i].name, named) == 0)
            return own;
    }
    if (strncmp(named, "tinyladder/", 11) == 0) {
        for (int i = 0; i < promise_count; i++) {
            if (strcmp(promises[i].header, named + 11) == 0)
                return promises[i].room;
        }
        return room_of("core");
    }
    char room[40] = "";
    if (sscanf(named, "%39[a-z]/", room) != 1 || strchr(named, '/') == NULL)
        return -2; /* without its room: nobody could tell whose it is */
    return room_of(room);
}

static const char *path_of(const source_file *file)
{
    static char path[256];
    snprintf(path, sizeof path, "src/%.20s/%.60s", rooms[file->room], file->name);
    return path;
}

static void includes_point_down(void)
{
    char line[400], named[200];
    list_files();
    CU_ASSERT_FATAL(chdir(TL_SOURCE) == 0);
    for (int i = 0; i < file_count; i++) {
        const char *path = path_of(&files[i]);
        FILE *text = fopen(path, "r");
        CU_ASSERT_FATAL(text != NULL);
        int lines = 0;
        bool head = false;
        while (fgets(line, sizeof line, text) != NULL) {
            lines++;
            head = head || (lines > 1 && lines <= 3 && strncmp(line, "/*", 2) == 0); /* behind the licence */
            if (sscanf(line, "#include \"%199[^\"]\"", named) != 1)
                continue;
            const int room = room_of_include(named, files[i].room);
            CHECK_ROW(path, room >= 0 && room <= files[i].room);
            if (room < 0 || room > files[i].room)
                printf("\n  %s includes %s\n", path, named);
        }
        fclose(text);
        CHECK_ROW(path, lines <= LINES_MOST);
        CHECK_ROW(path, head);
        if (!head || lines > LINES_MOST)
            printf("\n  %s: %d lines%s\n", path, lines,
                   head ? "" : ", without a head that says what it is for");
    }
}

/* A public header stands in the room that keeps its promises. */
static void headers_point_down(void)
{
    char path[200], line[400], named[200];
    list_files();
    for (int i = 0; i < promise_count; i++) {
        snprintf(path, sizeof path, TL_SOURCE "/include/tinyladder/%.46s", promises[i].header);
        FILE *text = fopen(path, "r");
        CU_ASSERT_FATAL(text != NULL);
        while (fgets(line, sizeof line, text) != NULL) {
            if (sscanf(line, "#include \"%199[^\"]\"", named) == 1)
                CHECK_ROW(promises[i].header, room_of_include(named, -1) <= promises[i].room);
        }
        fclose(text);
    }
}

static void the_picture_is_of_today(void)
{
    run_result drawn = run_program((const char *const[]){"scripts/rooms.sh", NULL}, TL_SOURCE);
    run_result kept = run_program((const char *const[]){"cat", "docs/rooms.dot", NULL}, TL_SOURCE);
    CU_ASSERT(drawn.status == 0 && strlen(drawn.out) > 500);
    CU_ASSERT(strcmp(drawn.out, kept.out) == 0); /* else: make rooms */
    run_free(&drawn);
    run_free(&kept);
}

/* Every function and file that the page on the architecture names. */
static void the_page_names_what_is_there(void)
{
    run_result r = run_program(
        (const char *const[]){
            "/bin/sh", "-c",
            "for name in $(grep -o '`[a-z_0-9]*()' docs/architecture.md | tr -d '`()' | sort -u); do "
            "grep -rqw \"$name\" src/*/*.c || echo \"$name()\"; done; "
            "for name in $(grep -oE '`([a-z]+/)?[a-z_0-9]+\\.(c|h)`' docs/architecture.md | tr -d '`' | sort "
            "-u); do "
            "ls src/*/${name##*/} tests/*/${name##*/} include/tinyladder/${name##*/} "
            "include/tinyladder/design/${name##*/} 2>/dev/null | grep -q . "
            "|| echo \"$name\"; done; "
            "grep -c '`' docs/architecture.md >&2",
            NULL},
        TL_SOURCE);
    CU_ASSERT(r.status == 0 && r.out[0] == '\0' && atoi(r.err) > 30);
    if (r.out[0] != '\0')
        printf("\n  docs/architecture.md names what is not there: %s\n", r.out);
    run_free(&r);
}

static void a_name_stands_for_one_file(void)
{
    list_files();
    for (int i = 0; i < file_count; i++) {
        for (int k = 0; k < i; k++)
            CHECK_ROW(files[i].name, strcmp(files[i].name, files[k].name) != 0);
    }
}

/* --- as the linker sees it --- */

enum { SYMBOLS_MOST = 16000 };
static struct {
    char name[80];
    int room, file;
    bool wanted;
} symbols[SYMBOLS_MOST];

static int file_of_object(const char *object)
{
    for (int i = 0; i < file_count; i++) {
        const size_t length = strlen(files[i].name);
        if (strncmp(object, files[i].name, length) == 0 && strncmp(object + length, ".o", 2) == 0)
            return i;
    }
    return -1;
}

/* `libx.a[file.c.o]: name T ...`, and of the command `folder/file.c.o: name T ...`. */
static int read_symbols(void)
{
    static const char all[] =
        "nm -A -P -g libtinyladder.a libtinyladder-rooms.a libcommand-rooms.a; "
        "nm -A -P -g CMakeFiles/tinyladder-command.dir/src/*/*.o | sed 's|[^:]*/||; s|^[^:]*|command[&]|'";
    run_result r = run_program((const char *const[]){"/bin/sh", "-c", all, NULL}, TL_BUILD);
    char *save = NULL;
    int count = 0;
    CU_ASSERT_FATAL(r.status == 0);
    for (char *line = strtok_r(r.out, "\n", &save); line != NULL; line = strtok_r(NULL, "\n", &save)) {
        char object[80], name[80], kind = '\0';
        if (sscanf(line, "%*[^[][%79[^]]]: %79s %c", object, name, &kind) != 3 ||
            strchr("TDBRU", kind) == NULL || strncmp(name, "__", 2) == 0 || count == SYMBOLS_MOST)
            continue;
        symbols[count].file = file_of_object(object);
        symbols[count].room = symbols[count].file >= 0 ? files[symbols[count].file].room : -1;
        symbols[count].wanted = kind == 'U';
        snprintf(symbols[count++].name, sizeof symbols[0].name, "%s", name);
    }
    run_free(&r);
    CU_ASSERT(count > 1000 && count < SYMBOLS_MOST);
    return count;
}

/* The core is linked into other people's firmware: no name of it stands in their way. */
static void the_core_keeps_to_its_names(void)
{
    list_files();
    const int count = read_symbols();
    int own = 0;
    for (int i = 0; i < count; i++) {
        if (symbols[i].wanted || symbols[i].room != room_of("core"))
            continue;
        CHECK_ROW(symbols[i].name, strncmp(symbols[i].name, "tl_", 3) == 0);
        own++;
    }
    CU_ASSERT(own > 80);
}

static int by_name(const void *a, const void *b)
{
    const int order = strcmp(((const char *)a), ((const char *)b));
    return order;
}

static void calls_point_down(void)
{
    list_files();
    const int count = read_symbols();
    qsort(symbols, (size_t)count, sizeof symbols[0], by_name);
    int arrows = 0;
    for (int first = 0, next; first < count; first = next) {
        int owner = -1;
        for (next = first; next < count && strcmp(symbols[next].name, symbols[first].name) == 0; next++)
            owner = symbols[next].wanted ? owner : symbols[next].room;
        for (int i = first; i < next && owner >= 0; i++) {
            const bool down = !symbols[i].wanted || owner <= symbols[i].room;
            arrows += symbols[i].wanted;
            CHECK_ROW(symbols[i].name, down);
            if (!down)
                printf("\n  %s of %s is called from %s\n", symbols[i].name, rooms[owner],
                       rooms[symbols[i].room]);
        }
    }
    CU_ASSERT(arrows > 500);
}

/* Inside a room, too: whoever is called calls nobody who calls it, however far around. */
static void files_stand_in_no_circle(void)
{
    static bool calls[FILES_MOST][FILES_MOST];
    list_files();
    const int count = read_symbols();
    int arrows = 0;
    memset(calls, 0, sizeof calls);
    qsort(symbols, (size_t)count, sizeof symbols[0], by_name);
    for (int first = 0, next; first < count; first = next) {
        int owner = -1;
        for (next = first; next < count && strcmp(symbols[next].name, symbols[first].name) == 0; next++)
            owner = symbols[next].wanted ? owner : symbols[next].file;
        for (int i = first; i < next && owner >= 0; i++) {
            const int caller = symbols[i].file;
            if (caller < 0 || caller == owner || files[caller].room != files[owner].room)
                continue;
            arrows += !calls[caller][owner];
            calls[caller][owner] = true;
        }
    }
    for (int m = 0; m < file_count; m++)
        for (int i = 0; i < file_count; i++)
            for (int k = 0; calls[i][m] && k < file_count; k++)
                calls[i][k] = calls[i][k] || calls[m][k];
    for (int i = 0; i < file_count; i++)
        CHECK_ROW(files[i].name, !calls[i][i]);
    CU_ASSERT(arrows > 300);
}

/* More than six arguments are a structure that has no name yet. What a port is asked of an I2C bus has seven,
 * as the bus has: bus, address, bytes there and back, and how many. */
static void functions_take_six_arguments(void)
{
    static const char search[] =
        "awk 'FNR == 1 { text = \"\"; open = 0 }"
        " open { text = text $0; open = $0 !~ /\\)$/; next }"
        " !/^typedef/ && /^[a-z].*\\(/ { text = $0; from = FNR; open = $0 !~ /[);{]$/; next }"
        " /^\\{/ && text != \"\" { seen++; n = gsub(/,/, \",\", text);"
        "   if (n > 5 && text !~ /i2c/) print FILENAME \":\" from \": \" text }"
        " { text = \"\" }"
        " END { if (seen < 1500) print \"only \" seen }' src/*/*.c";
    run_result r = run_program((const char *const[]){"/bin/sh", "-c", search, NULL}, TL_SOURCE);
    CU_ASSERT(r.status == 0 && r.out[0] == '\0');
    if (r.out[0] != '\0')
        printf("\n%s", r.out);
    run_free(&r);
}

/* What a stage is made of stands in one table; from there on everybody reads its parts. */
static void stage_kinds_are_known_to_few(void)
{
    run_result r = run_program(
        (const char *const[]){"grep", "-rlE", "TL_STAGE_[A-Z_]+|->kind == TL_STAGE", "src", NULL}, TL_SOURCE);
    char *save = NULL;
    int files_seen = 0;
    for (char *file = strtok_r(r.out, "\n", &save); file != NULL; file = strtok_r(NULL, "\n", &save)) {
        files_seen++;
        CHECK_ROW(file, strcmp(file, "src/model/parts.c") == 0 ||
                            strcmp(file, "src/reader/read_stage.c") == 0 ||
                            strncmp(file, "src/elaborate/", 14) == 0);
    }
    CU_ASSERT(files_seen >= 3);
    run_free(&r);
}

/*
 * Formulas of a circuit stand where circuits are solved, in analysis, and where sizing searches; everybody
 * else asks. Looked for by what their letters are called: I R, V / R, V / I, I I, R C, 1 / R, a side by side
 * b, ln, exp and pi. Not among them: laws of sensors, and what is drawn at random, drifts or swings on the
 * bench.
 */
static const char formulas[] =
    "O='[A-Za-z_>.-]*(ohms|resistance|siemens)[A-Za-z_0-9>.-]*'; A='[A-Za-z_>.-]*amperes[A-Za-z_0-9>.-]*'; "
    "V='[A-Za-z_>.-]*volts[A-Za-z_0-9>.-]*'; F='[A-Za-z_>.-]*farads[A-Za-z_0-9>.-]*'; "
    "P=\"$O \\* $A|$A \\* $O|$O \\* $F|$F \\* $O|$O \\* $O|$A \\* $A|$V \\* $V|$V / $O|1 / $O|$V / $A|\"; "
    "P=\"$P$O / \\($O|\\) / $O|[^a-z_0-9]log\\(|[^a-z_0-9]exp\\(|M_PI|3\\.1415|6\\.2831\"; "
    "for f in $0; do sed 's/\"[^\"]*\"//g' \"$f\" | grep -vE '^ *(\\*|/\\*)' | grep -nE \"$P\" | sed "
    "\"s|^|$f: |\"; "
    "done";

static int count_formulas(const char *among, bool show)
{
    run_result r = run_program((const char *const[]){"/bin/sh", "-c", formulas, among, NULL}, TL_SOURCE);
    int lines = 0;
    for (const char *at = r.out; *at != '\0'; at++)
        lines += *at == '\n';
    CU_ASSERT(r.status == 0);
    if (show && lines > 0)
        printf("\n%s", r.out);
    run_free(&r);
    return lines;
}

static void formulas_stand_where_circuits_are_solved(void)
{
    static const char *const elsewhere[] = {"base",    "core",     "model",     "reader",   "elaborate",
                                            "scene",   "rules",    "proposals", "firmware", "bench",
                                            "listen",  "printing", "broker",    "reading",  "record",
                                            "publish", "sheet",    "watch",     "cli"};
    static const char *const meant[] = {
        "src/base/preferred.c", "src/model/sensor_law.c", "src/bench/events.c",
        "src/bench/floating.c", "src/bench/quiet.c",      "src/bench/random.h",
        "src/bench/states.c",   "src/bench/stimuli.c",    "src/scene/read_waveform.c"};
    run_result all = run_program((const char *const[]){"/bin/sh", "-c", "ls src/*/*.[ch]", NULL}, TL_SOURCE);
    char *save = NULL, others[40000] = "", solving[8000] = "";
    for (char *file = strtok_r(all.out, "\n", &save); file != NULL; file = strtok_r(NULL, "\n", &save)) {
        bool asked = false;
        for (size_t i = 0; i < ROWS(elsewhere); i++)
            asked = asked || (strncmp(file + 4, elsewhere[i], strlen(elsewhere[i])) == 0 &&
                              file[4 + strlen(elsewhere[i])] == '/');
        for (size_t i = 0; i < ROWS(meant); i++)
            asked = asked && strcmp(file, meant[i]) != 0;
        char *to = asked ? others : solving;
        if (strlen(to) + strlen(file) + 2 < (asked ? sizeof others : sizeof solving))
            strcat(strcat(to, file), " ");
    }
    CU_ASSERT(count_formulas(solving, false) > 30); /* it does find them where they are */
    CU_ASSERT(count_formulas(others, true) == 0);
    run_free(&all);
}

/* Who wants to know something of a circuit asks tl_circuit_ask(), not its islands. */
static void there_is_one_door_for_figures(void)
{
    run_result r = run_program(
        (const char *const[]){"grep", "-rnE", "tl_island_(bounds|figure|new)", "src/rules", "src/proposals",
                              "src/firmware", "src/listen", "src/reading", "src/record", "src/sheet",
                              "src/watch", "src/cli", "src/scene", "src/reader", "src/model", NULL},
        TL_SOURCE);
    CU_ASSERT(r.status == 1 && r.out[0] == '\0');
    if (r.out[0] != '\0')
        printf("\n%s", r.out);
    run_free(&r);
    r = run_program((const char *const[]){"grep", "-rlE", "tl_island_(bounds|figure)", "src/analysis", NULL},
                    TL_SOURCE);
    CU_ASSERT(r.status == 0 && strstr(r.out, "ask.c") != NULL);
    run_free(&r);
}

CU_TestInfo house_tests[] = {
    {"there is one door for figures", there_is_one_door_for_figures},
    {"formulas stand where circuits are solved", formulas_stand_where_circuits_are_solved},
    {"stage kinds are known to few", stage_kinds_are_known_to_few},
    {"functions take six arguments", functions_take_six_arguments},
    {"includes point down", includes_point_down},
    {"headers point down", headers_point_down},
    {"the picture is of today", the_picture_is_of_today},
    {"the page names what is there", the_page_names_what_is_there},
    {"a name stands for one file", a_name_stands_for_one_file},
    {"calls point down", calls_point_down},
    {"files stand in no circle", files_stand_in_no_circle},
    {"the core keeps to its names", the_core_keeps_to_its_names},
    CU_TEST_INFO_NULL,
};
