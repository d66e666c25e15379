/* SPDX-License-Identifier: MIT */
/* Reading a scene file: what happens to the bench over time. */
#include "scene/read_scene.h"
#include "base/memory.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

/* `5 s for 200 ms` */
static bool read_press(reader *r, const yaml_tree *node, int signal, int button, tl_scene *scene)
{
    const char *text = NULL, *word;
    tl_text_error error;
    tl_quantity at, length;
    if (!read_text(r, node, "a press, such as '5 s for 200 ms'", &text))
        return false;
    if ((word = strstr(text, " for ")) == NULL || strlen(text) > TL_QUANTITY_LONGEST) {
        report_error(r, "bad-quantity", node->place,
                     "a press is written 'TIME for LENGTH', such as '5 s for 200 ms'");
        return false;
    }
    char first[TL_QUANTITY_LONGEST + 1] = "";
    memcpy(first, text, (size_t)(word - text));
    if (!tl_quantity_read(first, TL_DIM_SECOND, &at, &error) ||
        !tl_quantity_read(word + 5, TL_DIM_SECOND, &length, &error)) {
        report_error(r, "bad-quantity", node->place, "%s", error.text);
        return false;
    }
    const tl_press *before = scene->press_count > 0 ? &scene->presses[scene->press_count - 1] : NULL;
    if (length.nominal <= 0 || (before != NULL && before->signal == signal && before->button == button &&
                                at.nominal < before->at + before->length)) {
        report_error(r, "time-order", node->place,
                     "presses take their turn: each starts after the one before has ended");
        return false;
    }
    scene->presses = tl_grow(scene->presses, (size_t)scene->press_count, sizeof *scene->presses);
    scene->presses[scene->press_count++] = (tl_press){signal, button, at.nominal, length.nominal, false};
    return true;
}

/* `keypad.park`: a button of a chain or star. */
static bool find_pressed(reader *r, const yaml_tree *key, const tl_plan *plan, int *index, int *button)
{
    const char *dot = key->kind == YAML_TEXT ? strchr(key->text, '.') : NULL;
    char name[TL_QUANTITY_LONGEST + 1] = "";
    *button = -1;
    if (dot != NULL && (size_t)(dot - key->text) < sizeof name)
        memcpy(name, key->text, (size_t)(dot - key->text));
    const tl_signal *signal = dot != NULL ? tl_plan_signal(plan, name, index) : NULL;
    for (int i = 0; signal != NULL && i < signal->source.button_count; i++) {
        if (strcmp(signal->source.buttons[i].name, dot + 1) == 0)
            *button = i;
    }
    if (*button >= 0)
        return true;
    signal = scene_signal(r, key, plan, index);
    if (signal == NULL)
        return false;
    if (signal->analog) {
        report_error(r, "wrong-shape", key->place,
                     signal->source.button_count > 0 ? "say which button: SIGNAL.BUTTON"
                                                     : "only a contact can be pressed");
        return false;
    }
    return true;
}

static bool read_presses(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_plan *plan,
                         tl_scene *scene)
{
    int index = 0, button = -1;
    if (!find_pressed(r, key, plan, &index, &button) || !check_list(r, node, "presses"))
        return false;
    for (int i = 0; i < scene->repeat_count; i++) {
        if (scene->repeats[i].signal == index) {
            report_error(r, "key-twice", key->place, "'%.60s' has a pattern under 'values' already",
                         key->text);
            return false;
        }
    }
    for (int i = 0; i < scene->press_count; i++) {
        if (scene->presses[i].signal == index && scene->presses[i].recorded) {
            report_error(r, "key-twice", key->place, "'%.60s' has recorded levels under 'values' already",
                         key->text);
            return false;
        }
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_press(r, &node->items[i], index, button, scene) && good;
    return good;
}

typedef bool read_entry(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_plan *plan,
                        tl_scene *scene);

static bool read_entries(reader *r, const yaml_tree *root, const char *section, read_entry *read,
                         const tl_plan *plan, tl_scene *scene)
{
    const yaml_tree *node = yaml_get(root, section);
    bool good = true;
    if (node == NULL)
        return true;
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place, "%s are written as signals with lists", section);
        return false;
    }
    for (int i = 0; i < node->count; i++) {
        for (int j = 0; j < i; j++) {
            if (node->items[2 * i].kind == YAML_TEXT && node->items[2 * j].kind == YAML_TEXT &&
                strcmp(node->items[2 * i].text, node->items[2 * j].text) == 0) {
                report_error(r, "key-twice", node->items[2 * i].place, "'%.60s' stands here twice",
                             node->items[2 * i].text);
                good = false;
            }
        }
        good = read(r, &node->items[2 * i], &node->items[2 * i + 1], plan, scene) && good;
    }
    return good;
}

/* A scene that names its plan is for no other: the same file, however it is reached. */
static bool check_plan(reader *r, const yaml_tree *node, const tl_plan *plan)
{
    const char *name = NULL;
    struct stat named, given;
    if (!read_text(r, node, "the plan file's name", &name))
        return false;
    char *path = beside(r->path, name);
    const bool same = stat(path, &named) == 0 && stat(plan->path, &given) == 0 &&
                      named.st_dev == given.st_dev && named.st_ino == given.st_ino;
    free(path);
    if (!same)
        report_error(r, "other-plan", node->place, "this scene is for '%.100s', not for '%.200s'", name,
                     plan->path);
    return same;
}

static bool read_scene(reader *r, const yaml_tree *root, tl_circuit *circuit, tl_scene *scene)
{
    const tl_plan *plan = circuit->plan;
    long seed = 1;
    if (!read_head(r, root, "scene"))
        return false;
    bool good = check_map(r, root, &keys_scene);
    if (yaml_get(root, "plan") != NULL)
        good = check_plan(r, yaml_get(root, "plan"), plan) && good;
    if (yaml_get(root, "seed") != NULL)
        good = read_number(r, yaml_get(root, "seed"), "the seed", 0, 1000000000, &seed) && good;
    scene->seed = (unsigned long)seed;
    if (yaml_get(root, "length") != NULL)
        good = read_value(r, yaml_get(root, "length"), TL_DIM_SECOND, &scene->length) && good;
    good = read_entries(r, root, "values", read_scene_value, plan, scene) && good;
    good = read_entries(r, root, "presses", read_presses, plan, scene) && good;
    return read_scene_faults(r, yaml_get(root, "faults"), yaml_get(root, "meter"), circuit, scene) && good;
}

tl_scene *tl_scene_new(void)
{
    tl_scene *scene = tl_alloc(1, sizeof *scene);
    *scene = (tl_scene){.seed = 1, .length = INFINITY};
    return scene;
}

bool tl_scene_add_fault(tl_scene *scene, const char *line, tl_circuit *circuit, tl_report *report)
{
    static const char path[] = "fault.scene.yaml";
    char text[500];
    snprintf(text, sizeof text, "tinyladder: scene 1\nlength: 1 s\nfaults: [%s]\n", line);
    tl_report *own = tl_report_new(); /* one in which no other fault has this path */
    tl_report_instead(own, path, text, strlen(text));
    tl_scene *one = tl_scene_load(path, circuit, own);
    const bool good = one != NULL;
    if (good) {
        scene->faults = tl_grow(scene->faults, (size_t)scene->fault_count, sizeof *scene->faults);
        scene->faults[scene->fault_count++] = one->faults[0];
    }
    for (int i = 0; i < tl_report_count(own); i++) {
        const tl_finding *f = tl_report_finding(own, i);
        tl_report_add(report, f->severity, f->slug, (tl_place){-1, 0, 0}, "%s", f->cause);
    }
    tl_scene_free(one);
    tl_report_free(own);
    return good;
}

tl_scene *tl_scene_load(const char *path, tl_circuit *circuit, tl_report *report)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    reader r = {.report = report, .path = path, .rails = &plan->supplies, .rail_count = &plan->supply_count};
    const yaml_tree *root = yaml_read_file(path, (tl_place){-1, 0, 0}, report);
    if (root == NULL)
        return NULL;
    tl_scene *scene = tl_alloc(1, sizeof *scene);
    bool good = read_scene(&r, root, circuit, scene);
    good = check_all(&r, root, &keys_scene) && good;
    if (good)
        return scene;
    tl_scene_free(scene);
    return NULL;
}

void tl_scene_free(tl_scene *scene)
{
    if (scene == NULL)
        return;
    for (int i = 0; i < scene->waveform_count; i++)
        free(scene->waveforms[i].moments);
    free(scene->waveforms);
    free(scene->presses);
    free(scene->repeats);
    free(scene->faults);
    free(scene->meters);
    free(scene);
}
