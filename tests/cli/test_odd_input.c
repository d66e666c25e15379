/* SPDX-License-Identifier: MIT */
/* What people type that is a little off: each line of a shell, with its status and what it says. */
#include "support.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static void name_places(void)
{
    setenv("T", TL_BUILD "/tinyladder", 1);
    setenv("D", TL_SOURCE "/demo", 1);
}

typedef struct {
    const char *line;
    int status;
    const char *said, *not_said;
} odd_row;

#define TRIM "$T trim $D/fernhill.plan.yaml "
#define BATTERY TRIM "house-battery "
#define MIRROR TRIM "mirror-temperature --curve "
#define CONVERT "$T convert --bits 12 --reference 3.3V "
#define SIGNED "$T convert --bits 12 --reference -1V..1V --sign twos-complement "
#define READ "$T read $D/fernhill.plan.yaml "
#define PART "$T size $D/fernhill.plan.yaml house-battery.divider "
#define MARKING "$T size marking "
#define EXPLAIN "$T explain $D/fernhill.plan.yaml house-battery "
#define RECORD_OF "rm -f r.csv; $T record $D/cold-frame.plan.yaml --for 2s -o r.csv >/dev/null "
#define RECORD RECORD_OF "&& "
#define PLOT "$T plot r.csv wanted"
#define LISTEN TL_BUILD "/tinyladder-listen "
#define PUBLISH TL_BUILD "/tinyladder-publish "
#define RECORD_MORE "$T record $D/cold-frame.plan.yaml --for 2s -o r.csv >/dev/null; "
#define RECORDED_OVER "rm -f r.csv; $T record $D/cold-frame.plan.yaml -o r.csv "
#define PUBLISHED                                                                                            \
    "rm -f p.csv; $T record $D/fernhill.plan.yaml keypad mirror-temperature twilight open-button --for 1s "  \
    "-o p.csv --publish "                                                                                    \
    "mqtt://127.0.0.1:1/x --publish-as "
#define PULSES READ "motor-status --expect "

static const odd_row rows[] = {
    /* pairs and tables */
    {"printf 'degC,ohm\n25,10k\n50,3600\n\n85 degC,1.07 kohm\n' >p.csv; " MIRROR "table --pairs p.csv", 0,
     "25,10000\n50,3600\n85,1070\n", NULL},
    {"printf 'degC,ohm\n25,10k\nx,3600\n' >p.csv; " MIRROR "table --pairs p.csv", 3,
     "p.csv:3: error: expected a temperature", "25,10000"},
    {"printf '0,32.65k\n' >p.csv; " MIRROR "table --pairs p.csv", 3, "p.csv:1: error: '0' has no unit", NULL},
    {MIRROR "table 0degC=32k 25degC=10k 50degC=10k", 1, "at 50 degC the ohms turn back", NULL},
    {MIRROR "table 0degC=32k 25degC=10k 50degC=12k", 1, "at 50 degC the ohms turn back", NULL},
    {MIRROR "table 0degC=32k 0degC=33k", 1, "at least two different pairs", NULL},
    {MIRROR "beta 0degC", 2, "a pair is written QUANTITY=OHMS", NULL},
    {MIRROR "beta --pairs none.csv", 3, "none.csv: error: cannot be read: No such file", NULL},
    {"printf 'count,volts\n3179,12.40V\nx,y\n' >p.csv; " BATTERY "--pairs p.csv", 3,
     "p.csv:3: error: expected a count", NULL},
    {"printf '3179=12.40\n' | " BATTERY "--pairs /dev/stdin", 3, "a pair is written COUNT=VOLTS", NULL},
    {BATTERY "--live 0s,10min,x", 3, "--live: expected a time", NULL},
    {BATTERY "--live ,", 1, "at least two pairs", NULL},
    {BATTERY "nan=12.40V 2500=9.75V", 2, "nan=12.40V: error: expected a count", NULL},
    /* words and counts */
    {SIGNED "--words 0x8000", 2, "above the code its sign is repeated", NULL},
    {SIGNED "--fill zero --words 0xf800", 2, "the bits above the code are 0", NULL},
    {CONVERT "--align left --words 0x8001", 2, "aligned left, the bits below the code are 0", NULL},
    {CONVERT "--align stretched --words 0x8001", 2, "the code's bits are repeated below it", NULL},
    {SIGNED "--steps end-to-end -- -2047 0 2047", 0, "0          0   0.0002", NULL},
    {CONVERT "--steps end-to-end 4095", 0, "3.3000", NULL},
    {"printf 'a,b\n1\n2,3\n' | " CONVERT "--column b", 1,
     "standard input:2: error: this row has no such column", NULL},
    {"printf 'a,b\n1,2\n' | " CONVERT "--column c", 3, "there is no column 'c'", "volts"},
    {"i=0; while [ $i -lt 30 ]; do echo x,$i; i=$((i+1)); done | " CONVERT, 1, "more bad rows follow",
     "input:12"},
    {"printf '\"12\"\n+12\n.5\n' | " CONVERT, 1, "\"12\",0.009668,fresh\n+12,0.009668,fresh\n", "count"},
    {"printf '1,2\n' | " CONVERT ">/dev/full", 4, "No space left on device", NULL},
    {CONVERT "--percent 1V..2V --json 100 1V", 0, "\"percent\": 0", NULL},
    {CONVERT "--percent 2V..1V --json 100 1.5V", 0, "\"percent\": 50", NULL},
    {CONVERT "--percent 2V 100", 2, "--percent: expected EMPTY..FULL", NULL},
    {CONVERT "--ratio 1e9 5", 2, "--ratio: expected a ratio from 0.001 to 1000", NULL},
    {CONVERT "--ratio x 5", 2, "--ratio: expected a ratio", NULL},
    {CONVERT "--code 5", 2, "--code is for every count", NULL},
    {"$T convert $D/fernhill.plan.yaml house-battery a b c", 2, "PLAN, SIGNAL and FILE at most", NULL},
    {BATTERY "--of attic 1=2V", 2, "--of: source or pin", NULL},
    {BATTERY "--leave-out 5x 1=2V", 2, "there is no pair with the count '5x'", NULL},
    {"$T trim $D/fernhill.plan.yaml", 2, "expected PLAN and SIGNAL", NULL},
    {"$T plot x.csv --run 0", 2, "--run: a number from 1 on", NULL},
    {"$T plot x.csv --run 5x", 2, "--run: a number from 1 on", NULL},
    {"$T size divider --vin 12V --write", 2, "--write goes with PLAN and PART", NULL},
    {"$T record $D/fernhill.plan.yaml", 2, "-o is required", NULL},
    {READ "motor-status --expect plan --within 51", 2, "--within: '51' has no unit", NULL},
    {READ "motor-status --expect plan --within 51%", 2, "--within", NULL},
    {"$T word $D/lapwing.board.yaml --register control --decode=-5", 2, "--decode", NULL},
    {"$T word $D/lapwing.board.yaml --register control --decode 5x", 2, "--decode", NULL},
    {"$T word $D/lapwing.board.yaml --register control --decode 65536", 2, "--decode", NULL},
    {"$T watch $D/fernhill.plan.yaml --publish mqtt://127.0.0.1:1/x --frames 1", 4, "", NULL},
    {"$T watch $D/fernhill.plan.yaml --frames 1 --publish-as value", 2, "go with --publish", NULL},
    {"$T watch $D/fernhill.plan.yaml --frames 1 --publish-login x", 2, "go with --publish", NULL},
    {"$T watch $D/fernhill.plan.yaml --frames 1 --publish-ca x", 2, "go with --publish", NULL},
    {"$T watch $D/fernhill.plan.yaml --frames 1 --publish mqtt://h/x --publish-as sparrow", 2,
     "object or value", NULL},
    /* sizes */
    {PART "--compare 47k/12k,1k/1k", 0, "What fails:\n  - 1k ±1 % over 1k ±1 %: ", NULL},
    {PART "--compare sparrow", 2, "--compare: expected values with /", NULL},
    {"$T size $D/fernhill.plan.yaml keypad.source", 2, "no part 'source' that can be sized; it has: pull",
     NULL},
    {"$T size nearest --value 48k --series E5", 2, "--series: expected E3, E6", NULL},
    {"$T size nearest --value 48k --top 2 --json", 0, "\"code\": \"47k\"", NULL},
    {"$T size nearest --value 48k --drawer none.yaml", 3, "cannot read 'none.yaml'", NULL},
    {"$T size nearest --value 48k --drawer $D/bench.drawer.yaml", 0, "1    47k      -2.08", NULL},
    {"$T size nearest --value 48k --top 0", 2, "--top: expected a whole number from 1 to 20", NULL},
    {"$T size nearest --value 48k extra", 2, "'extra' is one argument too many", NULL},
    {"$T size nearest", 2, "which value?", NULL},
    {MARKING "--value '4k7 ±1 %' --tempco '50 ppm/K'", 0, "yellow violet black brown brown red", NULL},
    {MARKING "--value '4k7 ±1 %' --bands 3", 0, "bands yellow violet red\n", NULL},
    {MARKING "--value 4k7 --bands 4", 2, "the fourth says the tolerance", NULL},
    {MARKING "--value '4k7 ±1 %' --bands 6", 2, "the sixth band is the temperature coefficient", NULL},
    {MARKING "--value '4k71 ±5 %' --bands 4", 1, "this number of bands cannot show this value", NULL},
    {MARKING "--value '4n7 ±5 %' --farads", 2, "--farads goes with --read", NULL},
    {MARKING "--value 4k7 --farads", 2, "--farads goes with --read", NULL},
    {MARKING "--read 4n7J --farads", 0, "4.7 nF ±5 %", NULL},
    {MARKING "--read 'sparrow red red'", 2, "no first figure", NULL},
    {MARKING "--read 4k7 --value 4k7", 2, "either --value", NULL},
    {MARKING "extra", 2, "one argument too many", NULL},
    /* causes */
    {READ "house-battery --vary house-battery.divider.lower=12k,12k", 0, "3179              3179", NULL},
    {EXPLAIN "--saw none.vcd:x", 2, "a recorded line has levels", NULL},
    {EXPLAIN "--saw \"$(seq -s ' ' 1 99)\"", 2, "--saw: '1 2 3", NULL},
    {EXPLAIN "--saw 4095 --source 11V --meter house-battery=3.3V --ohms house-battery.divider,ground=1ohm", 1,
     "No single cause explains this. The nearest:", NULL},
    {"printf 'x\\nquit\\n' | $T explain $D/fernhill.plan.yaml --mystery 3 --ask "
     "--reveal",
     1, "or return to measure it on the bench, or quit: ", NULL},
    /* records */
    {RECORD "sed -i '3s/[^,]*/inf/' r.csv; " PLOT, 3, "r.csv: error: this is no record", NULL},
    {RECORD "sed -i 's/,analog,/,sparrow,/' r.csv; " PLOT, 3, "r.csv: error: this is no record", NULL},
    {RECORD "sed -i '5s/$/,x/' r.csv; " PLOT, 3, "r.csv: error: this is no record", NULL},
    {RECORD "sed -i 1d r.csv; " PLOT, 3, "r.csv: error: this is no record", NULL},
    {RECORD "printf %05000d 1 >>r.csv; " PLOT, 3, "r.csv: error: this is no record", NULL},
    {RECORD "printf %030d 1 >>r.csv; " PLOT, 0, "wanted", NULL},
    {RECORD "sed -i /,run,/d r.csv; " PLOT, 0, "wanted", NULL},
    {RECORD ": >r.csv; " PLOT, 3, "r.csv: error: this is no record", NULL},
    {RECORD "$T plot r.csv attic", 1, "nothing to plot in 'r.csv' of these signals", NULL},
    {RECORD "$T plot r.csv wanted --run 2", 1, "of these signals of that run", NULL},
    {"printf x >r.db; $T plot r.db wanted", 3, "r.db: error: this is no record", NULL},
    {"$T plot none.csv wanted", 3, "none.csv: error: No such file", NULL},
    {RECORD_OF "-F '{open: wanted.pin}' && " PLOT, 0, "wanted", NULL},
    {RECORD "$T explain $D/cold-frame.plan.yaml tank --record r.csv >/dev/null; echo $?", 0, "0\n", NULL},
    {RECORD "$T explain $D/fernhill.plan.yaml keypad --record r.csv", 3, "there is no count of these signals",
     NULL},
    {RECORDED_OVER "--every 1min --for 10min >/dev/null; " PLOT " | tail -1", 0, " min", NULL},
    {RECORDED_OVER "--every 10min --for 4h >/dev/null; " PLOT " | tail -1", 0, " h", NULL},
    {RECORD RECORD_MORE "$T plot r.csv --run all -o r.svg; $T plot r.csv wanted --run 2", 0, "wanted", NULL},
    {"$T record $D/cold-frame.plan.yaml --for 2s -o - >/dev/full", 4, "-: error: No space left on device",
     NULL},
    {"printf x >r.db; $T record $D/cold-frame.plan.yaml --for 2s -o r.db; cat r.db", 0,
     "this file is no database: nothing is added to it\nx", NULL},
    {"seq 1 1000 >r.db; $T record $D/cold-frame.plan.yaml --for 2s -o r.db", 4, "this file is no database",
     NULL},
    {": >r.db; $T record $D/cold-frame.plan.yaml --for 2s -o r.db && $T plot r.db wanted", 0, "wanted", NULL},
    {"printf 's,signal' >s.csv; $T record $D/cold-frame.plan.yaml --for 2s -o s.csv", 4,
     "this file is no record", NULL},
    {"rm -f r.csv; $T record $D/fernhill.plan.yaml --for 2s -F '{missing: logic}' -o r.csv >/dev/null; $T "
     "plot r.csv -o r.svg && "
     "$T plot r.csv",
     0, "house-battery", NULL},
    {"cp $T alone; ./alone watch $D/fernhill.plan.yaml --frames 1 --publish mqtt://127.0.0.1:1/x", 4,
     "built without MQTT", NULL},
    {"cp $T alone; ./alone sheet $D/cold-frame.plan.yaml -o x.pdf", 3, "tinyladder-sheet is missing", NULL},
    {"$T size nearest --value '1k .. 2k'", 2, "expected one value, got the range '1k .. 2k'", NULL},
    {"rm -rf d; cp -r $D d; sed -i \"s/^title:.*/title: It's cold/\" d/cold-frame.plan.yaml; rm -f r.csv; $T "
     "record "
     "d/cold-frame.plan.yaml --for 2s -o r.csv >/dev/null; " PLOT,
     0, "It's cold", NULL},
    {"python3 -c \"import sqlite3; c = sqlite3.connect('o.db'); c.execute('create table t(a)'); "
     "c.commit()\"; $T record "
     "$D/cold-frame.plan.yaml --for 2s -o o.db; rm o.db",
     0, "a database of something else: nothing is added to it", NULL},
    /* where values go to */
    {READ "--counts 'mqtt://[::1/t'", 3, "expected mqtt://HOST/TOPIC", NULL},
    {READ "--counts 'mqtt://h/$SYS/t'", 3, "expected mqtt://HOST/TOPIC", NULL},
    {READ "--counts 'mqtt://h/a+b'", 3, "expected mqtt://HOST/TOPIC", NULL},
    {READ "--counts 'mqtt:///t'", 3, "expected mqtt://HOST/TOPIC", NULL},
    {READ "--counts mqtt://h", 3, "expected mqtt://HOST/TOPIC", NULL},
    {READ "--counts mqtt://h/$(printf %0700d 0)", 3, "expected mqtt://HOST/TOPIC", NULL},
    {READ "--counts mqtt://$(printf %0400d 0)/t", 3, "expected mqtt://HOST/TOPIC", NULL},
    {PUBLISHED "value -F '{open: keypad.pin}' -F '{open: mirror-temperature.source}'", 4,
     "could not be handed to", NULL},
    {PUBLISHED "value -F '{short: twilight.pin, to: ground}' -F '{open: open-button.pin}'", 4,
     "could not be handed to", NULL},
    {PUBLISHED "object -F '{open: keypad.pin}' -F '{open: mirror-temperature.source}'", 4,
     "could not be handed to", NULL},
    {PUBLISHED "value -F '{short: mirror-temperature.pin, to: ground}'", 4, "could not be handed to", NULL},
    {PUBLISHED "object -F '{short: mirror-temperature.pin, to: ground}' -F '{open: open-button.pin}'", 4,
     "could not be handed to", NULL},
    /* helpers for a broker, as the command calls them */
    {LISTEN, 2, "", NULL},
    {PUBLISH, 2, "", NULL},
    {LISTEN "127.0.0.1 1 a plain '' none", 4, "'none' has no user and password, a line each", NULL},
    {LISTEN "127.0.0.1 1 a tls none.pem ''", 4, "the certificates 'none.pem' cannot be used", NULL},
    {"TINYLADDER_MQTT_USER=me " LISTEN "127.0.0.1 1 a plain '' ''", 4, "127.0.0.1:1: Connection refused",
     NULL},
    {PUBLISH "127.0.0.1 1 a/status tls none.pem '' </dev/null", 4, "'none.pem' cannot be used", NULL},
    {"printf 'me\\n' >login; " PUBLISH "127.0.0.1 1 a/status plain '' login </dev/null", 0, "", NULL},
    {"echo >login; " PUBLISH "127.0.0.1 1 a/status plain '' login </dev/null", 4, "'login' has no user",
     NULL},
    {"printf '%070000d\\tx\\nno tab\\n' 1 | " PUBLISH "127.0.0.1 1 a/status plain '' ''", 4,
     "2 values could not be handed", NULL},
    /* counts of a board */
    {"printf '{\"s\": 1, \"open-button\": true}\n' | " READ "open-button --counts -", 0, "L12   high", NULL},
    {"printf '{\"s\": 1, \"house-battery\": \"3180\"}\n' | " READ "house-battery --counts -", 0, "3180",
     NULL},
    {"printf '{\"s\": \"3\", \"house-battery\": 3180}\n' | " READ "house-battery --counts -", 4,
     "-:1: no JSON object of numbers", "3180"},
    {"printf '{\"house-battery\": [1]}\n' | " READ "house-battery --counts -", 4,
     "-:1: no JSON object of numbers", NULL},
    {"printf '{\"attic\": 1}\n' | " READ "house-battery --counts -", 4, "the plan has no signal 'attic'",
     NULL},
    {"printf '{\"s\": -1, \"house-battery\": 3180}\n' | " READ "house-battery --counts -", 4,
     "a time is 0 or later", NULL},
    /* where they come from */
    {READ "--counts unix:/nowhere/x", 3, "unix:/nowhere/x: No such file", NULL},
    {READ "--counts unix:$(printf %0200d 0)", 3, "the path is too long", NULL},
    {READ "--counts tcp:nohost", 3, "expected tcp:HOST:PORT", NULL},
    {READ "--counts tcp::80", 3, "expected tcp:HOST:PORT", NULL},
    {READ "--counts tcp:127.0.0.1:", 3, "expected tcp:HOST:PORT", NULL},
    {READ "--counts tcp:127.0.0.1:1", 3, "Connection refused", NULL},
    {READ "--counts tcp:127.0.0.1:65537", 3, "expected tcp:HOST:PORT", NULL},
    {READ "--counts tcp:127.0.0.1:0", 3, "expected tcp:HOST:PORT", NULL},
    {READ "--counts /dev/null@12345", 3, "'12345' is no speed", NULL},
    {READ "--counts /dev/null@9600", 3, "no serial line", NULL},
    {READ "--counts /dev/nothing@9600", 3, "No such file", NULL},
    {READ "--counts mqtt://h:99999/t", 3, "expected mqtt://HOST/TOPIC", NULL},
    /* patterns of a line */
    {PULSES "300ms", 2, "alternating lengths", NULL},
    {PULSES "'300ms high, 200ms high'", 2, "alternating lengths", NULL},
    {PULSES "'high, low'", 2, "alternating lengths", NULL},
    {PULSES "'1h high'", 2, "alternating lengths", NULL},
    {PULSES "'1ns high'", 2, "alternating lengths", NULL},
    {PULSES "''", 2, "alternating lengths", NULL},
    {PULSES "none.vcd:x", 3, "cannot read 'none.vcd'", NULL},
    {PULSES "'300ms high, 200ms low' --json", 1, "\"seen\": []", NULL},
    {PULSES "plan --scene $D/evening.scene.yaml --json", 0, "\"level\": \"low\",\n      \"s\": 0.1995", NULL},
    {READ "open-button --expect plan", 2, "the plan says nothing of what open-button should show", NULL},
    /* benches */
    {READ "house-battery --seeds 5 -F '{open: house-battery.pin}'", 0, "no reading on any bench", NULL},
    {"printf 'tinyladder: scene 1\nlength: 1 s\nfaults: [{short: house-battery.pin, to: battery}]\n' "
     ">d.scene.yaml; " READ "house-battery --scene d.scene.yaml --at 900ms --json",
     1, "\"pin\": \"L4\",", NULL},
};

static void each_says_what_is_off(void)
{
    name_places();
    for (size_t i = 0; i < ROWS(rows); i += THINNED) {
        char whole[1600];
        snprintf(whole, sizeof whole, "{ %s; } 2>&1", rows[i].line);
        run_result r = run_program((const char *const[]){"/bin/sh", "-c", whole, NULL}, TL_SCRATCH);
        const bool good = r.status == rows[i].status && strstr(r.out, rows[i].said) != NULL &&
                          (rows[i].not_said == NULL || strstr(r.out, rows[i].not_said) == NULL);
        CHECK_ROW(rows[i].line, good);
        if (!good)
            printf("\n  %s: %d\n%.900s", rows[i].line, r.status, r.out);
        run_free(&r);
    }
}

/* Options that do not go together: each of those behind the line is one too many. */
static void options_exclude_each_other(void)
{
    static const struct {
        const char *line, *said, *beside; /* apart by | */
    } pairs[] = {
        {READ "--vary house-battery.divider.lower=8k2", "--vary: one moment of the bench",
         "--csv|--times 3|--seeds 3|--mystery 1|--meter house-battery|--why|--counts -|--strict|--expect "
         "plan"},
        {READ "--seeds 3", "--seeds: one moment",
         "--csv|--ideal|--times 3|--meter house-battery|--expect plan"},
        {READ "--meter house-battery", "--meter: one moment", "--csv|--times 3|--expect plan"},
        {READ "--why", "--why: one moment", "--csv|--times 2|--seeds 2"},
        {READ "--counts -", "--counts: the real board has no",
         "--at 3s|--ideal|--seed 3|--seeds 3|--mystery 3|--meter house-battery|--expect plan|--strict|--mean "
         "3|--scene x|-F "
         "'{open: house-battery.pin}'"},
        {"$T record $D/fernhill.plan.yaml -o x.csv --counts -", "--counts: the real board has no",
         "--at 3s|--seed 3|--mean 3|--real-time|--scene x|-F '{open: house-battery.pin}'"},
        {"$T watch $D/fernhill.plan.yaml --counts -", "--counts: the real board has no",
         "--at 3s|--seed 3|--speed 2|--scene x"},
        {BATTERY "--counts x", "--counts: standard input is for the meter", "--against keypad|--curve beta"},
        {BATTERY "--against keypad 1/2=3V", "--against takes its pairs", "--write|--dry-run|--curve beta"},
        {BATTERY "1=2V", "one way", "--pairs x|--live 1s"},
        {MIRROR "beta 0degC=32k", "--curve takes its pairs", "--write|--dry-run"},
        {BATTERY "1=2V --json", "--dry-run prints a diff", "--dry-run"},
        {"$T convert $D/fernhill.plan.yaml house-battery", "go with --bits and --reference",
         "--divider 1k/1k|--percent 1V..2V|--hex|--code|--json"},
        {CONVERT "5", "go with a file", "--column x|--bad stop|--back"},
        {"$T check $D/fernhill.plan.yaml --vary house-battery.divider.lower=8k2", "--vary only shows",
         "--brief|--fix|--dry-run"},
        {"$T check $D/fernhill.plan.yaml --dry-run", "--dry-run prints a diff", "--json|--brief"},
        {"$T explain $D/fernhill.plan.yaml --mystery 3", "the bench is what is seen",
         "--record x.csv|--counts -|--observed x|--saw 5"},
    };
    name_places();
    for (size_t i = 0; i < ROWS(pairs); i += THINNED) {
        char copy[300], *save = NULL;
        snprintf(copy, sizeof copy, "%s", pairs[i].beside);
        for (char *word = strtok_r(copy, "|", &save); word != NULL; word = strtok_r(NULL, "|", &save)) {
            char whole[700];
            snprintf(whole, sizeof whole, "{ %s %s; } 2>&1 </dev/null", pairs[i].line, word);
            run_result r = run_program((const char *const[]){"/bin/sh", "-c", whole, NULL}, TL_SCRATCH);
            CHECK_ROW(whole, r.status == 2 && strstr(r.out, pairs[i].said) != NULL);
            if (r.status != 2 || strstr(r.out, pairs[i].said) == NULL)
                printf("\n  %s: %d\n%.300s", whole, r.status, r.out);
            run_free(&r);
        }
    }
}

CU_TestInfo odd_input_tests[] = {
    {"each says what is off", each_says_what_is_off},
    {"options exclude each other", options_exclude_each_other},
    CU_TEST_INFO_NULL,
};
