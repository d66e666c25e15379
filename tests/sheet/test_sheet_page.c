/* SPDX-License-Identifier: MIT */
/* The sheet as a page: in a real browser, without a screen, with readings put into its fields; what it saves
 * is judged by the command again. And the sheet as text. */
#include "support.h"
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define TITLE "<script>document.title='ran'</script> & \\\"quotes\\\""

static const char plan[] =
    "tinyladder: plan 1\ntitle: \"" TITLE "\"\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
    "supplies: {house: 10 V .. 14 V}\nsignals:\n"
    "  tap: {source: {rail: house}, stages: [divider: {upper: 47k ±1 %, lower: 12k ±1 %}], pin: L4}\n"
    "  door: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}], pin: L12}\n";

/* The fields, in order: ohms behind the divider; house; behind the divider; door open; door closed. It fills
 * them in, looks, loads itself anew, and looks at what was kept. */
static const char script[] =
    "<script>(() => {\n"
    "  const fields = [...document.querySelectorAll('input.reading')], row = document.getElementById('t2');\n"
    "  const put = (i, text) => { fields[i].value = text; fields[i].dispatchEvent(new Event('input', "
    "{bubbles: true})); };\n"
    "  const words = () => fields.map(f => document.getElementById(f.id + 'v').textContent).join('|');\n"
    "  const mark = () => document.querySelectorAll('a.row[data-row=\"2\"].done').length;\n"
    "  const discs = kind => document.querySelectorAll('a.check.' + kind).length;\n"
    "  if (!sessionStorage.step) {\n"
    "    ['12k', '9', '2,50', 'much', '12mV'].forEach((text, i) => put(i, text));\n"
    "    const first = words();\n"
    "    ['9.7k', '12.5', '2.54 V', '3300m', '0'].forEach((text, i) => put(i, text));\n"
    "    const second = words();\n"
    "    put(2, '2.65');\n"
    "    row.closest('tr').click();\n"
    "    const third = words() + ' ' + mark() + discs('good') + discs('bad');\n"
    "    window.Blob = class { constructor(parts) { sessionStorage.csv = parts.join(''); } };\n"
    "    URL.createObjectURL = () => 'about:blank';\n"
    "    HTMLAnchorElement.prototype.click = () => {};\n"
    "    document.getElementById('save').click();\n"
    "    sessionStorage.step = [first, second, third].join(' # ');\n"
    "    location.reload();\n"
    "    return;\n"
    "  }\n"
    "  const out = document.createElement('pre');\n"
    "  out.id = 'out';\n"
    "  out.textContent = [document.title, sessionStorage.step, words() + ' ' + mark(), row.checked, "
    "sessionStorage.csv].join(' # ') + ' # end';\n"
    "  document.body.append(out);\n"
    "})()</script>";

static run_result shell(const char *line)
{
    return run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SCRATCH);
}

/* The page, with the script behind it. */
static void make_page(void)
{
    char line[1000];
    (void)scratch_file("page.plan.yaml", plan, strlen(plan));
    (void)scratch_file("page.script", script, strlen(script));
    snprintf(
        line, sizeof line,
        "'%s/tinyladder' --outside sheet page.plan.yaml -o page.html && sed 's|</body></html>||' page.html "
        ">played.html && cat page.script >>played.html",
        TL_BUILD);
    run_result r = shell(line);
    CU_ASSERT_FATAL(r.status == 0);
    run_free(&r);
}

/* Between the marks of the dumped page. */
static void part_of(const char *dumped, int part, char text[600])
{
    const char *at = strstr(dumped, "<pre id=\"out\">");
    text[0] = '\0';
    for (; at != NULL && part > 0; part--) {
        at = strstr(at + 1, " # ");
        at = at != NULL ? at + 3 - 1 : NULL;
    }
    if (at == NULL)
        return;
    at += *at == '<' ? strlen("<pre id=\"out\">") : 1;
    const char *end = strstr(at, " # ");
    snprintf(text, 600, "%.*s", (int)(end != NULL ? end - at : 0), at);
}

static void a_browser_judges_what_is_put_in(void)
{
    static const struct {
        int part;
        const char *wanted;
    } rows[] = {
        /* by hand: 12k ±1 % ±1 % - 0.5 ohms; 10 V less 51 mV; what house is times 12.105/58.635 (upper at its
         * least, lower at its most beside the meter), 1.005/0.995 and 1.2 mV: .20857 */
        {1, "✓ inside|▼ 949 mV below|▲ 622 mV above|not a reading: such as 2.21 or 2210m|▲ 11 mV above"},
        {2, "▼ 2.06 kΩ below|✓ inside|✓ inside|✓ inside|✓ inside"},
        {3, "▼ 2.06 kΩ below|✓ inside|▲ 42 mV above|✓ inside|✓ inside 122"},
        {4, "▼ 2.06 kΩ below|✓ inside|▲ 42 mV above|✓ inside|✓ inside 1"},
        {5, "true"},
    };
    make_page();
    run_result r =
        shell("timeout 60 chromium-headless-shell --no-sandbox --disable-gpu --virtual-time-budget=9000 "
              "--dump-dom \"file://$PWD/played.html\" 2>/dev/null");
    char text[600];
    for (size_t i = 0; i < ROWS(rows); i++) {
        part_of(r.out, rows[i].part, text);
        CHECK_ROW(rows[i].wanted, strcmp(text, rows[i].wanted) == 0);
        if (strcmp(text, rows[i].wanted) != 0)
            printf("\n  %d: %s\n  not %s\n", rows[i].part, text, rows[i].wanted);
    }
    /* Nothing of the plan's words has run. */
    part_of(r.out, 0, text);
    CU_ASSERT(strncmp(text, "&lt;script&gt;", 14) == 0);
    /* What it saves is what the command takes; one reading is out in both rooms. */
    part_of(r.out, 6, text);
    CU_ASSERT(strncmp(text, "checkpoint,signal,power,when,measured\n", 38) == 0);
    (void)scratch_file("saved.csv", text, strlen(text));
    run_free(&r);
    r = shell(TL_BUILD "/tinyladder --outside sheet page.plan.yaml --checked saved.csv");
    CU_ASSERT(r.status == 1 && strstr(r.out, "3 of 5 readings are inside") != NULL);
    CU_ASSERT(strstr(r.out, "explain page.plan.yaml --ohms 'tap.pin,ground=9700R'") != NULL);
    if (r.status != 1)
        printf("\n  %d %s%s\n%s", r.status, r.out, r.err, text);
    run_free(&r);
}

static void the_page_needs_no_other(void)
{
    static const char *const outside[] = {"http:", "https:", "src=", "url(", "@import", "<link"};
    make_page();
    run_result r = shell("cat page.html");
    for (size_t i = 0; i < ROWS(outside); i++)
        CHECK_ROW(outside[i], strstr(r.out, outside[i]) == NULL);
    CU_ASSERT(strstr(r.out, "default-src 'none'") != NULL && strstr(r.out, "document.title='ran'") == NULL);
    run_free(&r);
}

/* Readings from a file: each verdict, and what a file may not say. */
static void readings_are_judged(void)
{
    static const struct {
        const char *rows, *said;
        int status;
    } rows[] = {
        {"2,tap,off,,12k\n", "1 of 1 readings are inside; 4 checkpoints are not measured", 0},
        {"2,tap,off,,open\n", "explain page.plan.yaml --ohms 'tap.pin,ground=open'", 1},
        {"3,door,on,closed,3.3\n", "explain page.plan.yaml --meter 'door.pin=3.3 V' --source 'door=closed'",
         1},
        {"3,door,on,open,\"3,3\"\n", "1 of 1 readings are inside", 0},
        {"1,tap,on,write it down as A,12.5\n2,tap,on,A × 0.1979 .. 0.2086,2.7\n",
         "--source 'tap=12.4365 V .. 12.5635 V'", 1},
        {"4,door,on,closed,3.3\n", "saved.csv:2", 3},
        {"3,door,on,ajar,3.3\n", "no checkpoint 3 of 'door', power on, 'ajar'", 3},
        {"3,door,on,closed,=1+1\n", "'=1+1' is no reading", 3},
        {"3,door,on,closed,0x10\n", "is no reading", 3},
        {"2,tap,off,,5 V\n", "is no reading; expected one such as 10.9k", 3},
        {"3,door\n", "expected the columns", 3},
    };
    make_page();
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[300];
        snprintf(text, sizeof text, "checkpoint,signal,power,when,measured\n%s", rows[i].rows);
        (void)scratch_file("saved.csv", text, strlen(text));
        run_result r = shell(TL_BUILD "/tinyladder --outside sheet page.plan.yaml --checked saved.csv 2>&1");
        CHECK_ROW(rows[i].rows, r.status == rows[i].status && strstr(r.out, rows[i].said) != NULL);
        if (r.status != rows[i].status || strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s: %d %s", rows[i].rows, r.status, r.out);
        run_free(&r);
    }
}

static void a_terminal_gets_the_letters_it_has(void)
{
    make_page();
    for (int utf8 = 0; utf8 < 2; utf8++) {
        run_result r = shell(
            utf8 == 1 ? "LC_ALL=C.UTF-8 " TL_BUILD "/tinyladder --outside sheet page.plan.yaml --form txt"
                      : "LC_ALL=C " TL_BUILD "/tinyladder --outside sheet page.plan.yaml --form txt");
        bool plain = true;
        for (const char *c = r.out; *c != '\0'; c++)
            plain = plain && isascii((unsigned char)*c);
        CU_ASSERT(r.status == 0 && plain == (utf8 == 0));
        CU_ASSERT(strstr(r.out, utf8 == 1 ? "──[47k]──" : "--[47k]--") != NULL);
        CU_ASSERT(strstr(r.out, "Wiring list") != NULL && strstr(r.out, "Power on") != NULL);
        run_free(&r);
    }
}

static void drawings_of_recipes_are_of_today(void)
{
    run_result r = shell(
        "cd " TL_SOURCE "/docs/recipes && for svg in *.svg; do plan=$(grep -o '[a-z0-9-]*\\.plan\\.yaml' "
        "${svg%.svg}.md | while read -r name; do [ -f $name ] && echo $name && break; done); " TL_BUILD
        "/tinyladder sheet $plan --circuits -o " TL_SCRATCH "/recipe.svg >/dev/null && cmp " TL_SCRATCH
        "/recipe.svg $svg && echo same; done");
    int same = 0;
    for (const char *at = r.out; (at = strstr(at, "same\n")) != NULL; at++)
        same++;
    CU_ASSERT(r.err[0] == '\0' && strstr(r.out, "differ") == NULL && same > 15);
    if (r.err[0] != '\0' || strstr(r.out, "differ") != NULL)
        printf("\n  make shots draws them anew: %s%s", r.out, r.err);
    run_free(&r);
}

CU_TestInfo sheet_page_tests[] = {{"drawings of recipes are of today", drawings_of_recipes_are_of_today},
                                  {"a browser judges what is put in", a_browser_judges_what_is_put_in},
                                  {"the page needs no other", the_page_needs_no_other},
                                  {"readings are judged", readings_are_judged},
                                  {"a terminal gets the letters it has", a_terminal_gets_the_letters_it_has},
                                  CU_TEST_INFO_NULL};
