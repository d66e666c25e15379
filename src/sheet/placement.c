/* SPDX-License-Identifier: MIT */
/*
 * Row by row, as the list has them. Every name of a group is a node, and so is every supply; a node gets its
 * first strip when it is met first, and another one, joined by a link, when its holes are used up. A part
 * between two nodes lies along a row over holes that are all free; where there is none, one of the two gets a
 * strip beside.
 */
#include "sheet/placement.h"
#include "base/memory.h"
#include "sheet/wiring_rows.h"
#include <stdlib.h>
#include <string.h>

enum {
    BODY_HOLES = 4 /* from leg to leg */,
    COLUMN_STEP = 4,
    FIRST_COLUMN = 1,
    RAIL_USES = 5 /* of a second supply, that it is worth a rail */
};

typedef struct {
    const wire *of; /* where it was met first, */
    wire_end end;   /* and as what */
    int uses;       /* that are still to come */
    int *strips;
    int strip_count;
} node;

typedef struct {
    const tl_plan *plan;
    const tl_plug_in *on;
    const wiring *list;
    placement out;
    node *nodes;
    int node_count;
    int (*ends)[2];   /* of each row the nodes; TL_NONE */
    bool *taken;      /* holes of strips: used, or below a body */
    bool *rail_taken; /* holes of rails */
    int boards;       /* that there is room for */
    int next;         /* strip, counted over halves and boards */
} placer;

/* --- places --- */

static int strips_of_board(const placer *p)
{
    return 2 * ((p->on->columns - FIRST_COLUMN + COLUMN_STEP - 1) / COLUMN_STEP);
}

static hole hole_of(const placer *p, int strip, int row)
{
    const int each = strips_of_board(p), half = each / 2, in = strip % each;
    return (hole){HOLE_STRIP, strip / each, in / half, FIRST_COLUMN + COLUMN_STEP * (in % half), row};
}

static bool *at_hole(const placer *p, const hole *h)
{
    return &p->taken[((h->board * 2 + h->half) * p->on->columns + h->column) * p->on->rows + h->row];
}

static bool *at_rail(const placer *p, const hole *h)
{
    return &p->rail_taken[((h->board * 2 + h->half) * 2 + h->row) * p->on->columns + h->column];
}

static int free_holes(const placer *p, int strip)
{
    int count = 0;
    for (int row = 0; row < p->on->rows; row++) {
        const hole h = hole_of(p, strip, row);
        count += !*at_hole(p, &h);
    }
    return count;
}

/* --- nodes --- */

static bool is_wanted(const wire *w)
{
    return !w->fitted && w->to.kind != END_NOWHERE && w->from.kind != END_NOWHERE;
}

static bool is_supply(const node *n)
{
    return n->end.kind == END_RAIL;
}

/* A node of the plan: it is fed by a part of it. */
static bool is_shared(const placer *p, const node *n)
{
    return is_supply(n) && n->end.index >= 0 && p->plan->supplies[n->end.index].kind == TL_RAIL_SHARED;
}

static bool is_header_pin(const placer *p, const wire_end *end)
{
    return end->kind == END_PIN && end->index < p->plan->board->pin_count;
}

/* A leg, a pole, a chip's pin: it needs a hole of its own, too. */
static bool is_outside(const placer *p, const node *n)
{
    return n->end.kind != END_BEHIND && !is_supply(n) && !is_header_pin(p, &n->end);
}

/* A pin of the header that a part is at: the part is plugged in, and a wire goes to the pin. */
static bool is_pin_with_part(const placer *p, const wire_end *end)
{
    for (int i = 0; i < p->list->count; i++) {
        const wire *w = &p->list->wires[i];
        if (is_wanted(w) && w->path[0] != '\0' &&
            (wire_ends_alike(w, &w->from, w, end) || wire_ends_alike(w, &w->to, w, end)))
            return true;
    }
    return false;
}

static int find_node(const placer *p, const wire *w, const wire_end *end)
{
    int at = 0;
    while (at < p->node_count && !wire_ends_alike(p->nodes[at].of, &p->nodes[at].end, w, end))
        at++;
    return at;
}

/* One use more; the node, or TL_NONE where it is nothing for the board. */
static int count_use(placer *p, const wire *w, const wire_end *end)
{
    if (is_header_pin(p, end) && !is_pin_with_part(p, end))
        return TL_NONE;
    const int at = find_node(p, w, end);
    if (at == p->node_count) {
        p->nodes = tl_grow(p->nodes, (size_t)p->node_count++, sizeof *p->nodes);
        p->nodes[at] = (node){.of = w, .end = *end};
    }
    p->nodes[at].uses++;
    return at;
}

/* As it is called beside the list. */
static void name_node(const node *n, char text[64])
{
    const bool global = n->end.kind == END_RAIL || n->end.kind == END_PIN;
    snprintf(text, 64, "%.30s%s%.30s", global ? "" : n->of->group, global ? "" : ", ", n->end.name);
}

/* A leg with nothing but a wire at it is not on the board: the wire goes right there. */
static bool stays_outside(const placer *p, int which)
{
    int parts = 0, uses = 0;
    for (int i = 0; i < p->list->count; i++) {
        for (int e = 0; e < 2; e++) {
            uses += p->ends[i][e] == which;
            parts += p->ends[i][e] == which && p->list->wires[i].path[0] != '\0';
        }
    }
    return is_outside(p, &p->nodes[which]) && parts == 0 && uses < 2;
}

/* --- rails --- */

/* At each side ground and the supply that most is connected to; below another one that many are connected to.
 */
static void choose_rails(placer *p)
{
    const node *most[2] = {NULL, NULL};
    const wire_end ground = wiring_rail_end(p->plan, TL_TO_GROUND);
    for (int i = 0; i < p->node_count; i++) {
        const node *n = &p->nodes[i];
        if (!is_supply(n) || is_shared(p, n) || n->end.index == TL_TO_GROUND)
            continue;
        if (most[0] == NULL || n->uses > most[0]->uses) {
            most[1] = most[0];
            most[0] = n;
        } else if (most[1] == NULL || n->uses > most[1]->uses) {
            most[1] = n;
        }
    }
    for (int side = 0; side < 2; side++) {
        const node *supply = side == 1 && most[1] != NULL && most[1]->uses >= RAIL_USES ? most[1] : most[0];
        for (int row = 0; row < 2; row++)
            p->out.rail[side][row] = wire_nowhere();
        if (p->on->rails == 2 || (p->on->rails == 1 && side == 1))
            p->out.rail[side][p->on->rails - 1] = ground;
        if ((p->on->rails == 2 || (p->on->rails == 1 && side == 0)) && supply != NULL)
            p->out.rail[side][0] = supply->end;
    }
}

/* The row of a supply's rail at a side; TL_NONE. */
static int rail_row(const placer *p, const node *n, int half)
{
    for (int row = 0; row < p->on->rails && is_supply(n); row++) {
        if (p->out.rail[half][row].kind == END_RAIL && p->out.rail[half][row].index == n->end.index)
            return row;
    }
    return TL_NONE;
}

static bool has_rail(const placer *p, const node *n)
{
    return rail_row(p, n, 0) != TL_NONE || rail_row(p, n, 1) != TL_NONE;
}

/* A free hole of a supply's rail at a side, as near to the column as can be; not above a strip, where a part
 * may come to lie; false: it has none there. The first hole of each is kept for what feeds it. */
static bool take_rail(placer *p, const node *n, const hole *near, int half, hole *at)
{
    const int row = rail_row(p, n, half);
    for (int off = 0; row != TL_NONE && off < p->on->columns; off++) {
        for (int way = -1; way <= 1; way += 2) {
            *at = (hole){HOLE_RAIL, near->board, half, near->column + way * off, row};
            if (at->column < 1 || at->column >= p->on->columns ||
                (at->column - FIRST_COLUMN) % COLUMN_STEP == 0 || *at_rail(p, at))
                continue;
            *at_rail(p, at) = true;
            return true;
        }
    }
    return false;
}

/* --- strips --- */

static void add_link(placer *p, const node *n, hole from, hole to)
{
    p->out.links = tl_grow(p->out.links, (size_t)p->out.link_count, sizeof *p->out.links);
    placed *link = &p->out.links[p->out.link_count++];
    *link = (placed){from, to, false, ""};
    name_node(n, link->what);
}

static hole take_any(placer *p, int strip)
{
    for (int row = p->on->rows - 1; row >= 0;
         row--) { /* from the groove outward: the outermost is for rails */
        const hole h = hole_of(p, strip, row);
        if (!*at_hole(p, &h)) {
            *at_hole(p, &h) = true;
            return h;
        }
    }
    return (hole){.kind = HOLE_NONE};
}

static int add_strip(placer *p, node *n)
{
    const int strip = p->next++;
    const int last = n->strip_count > 0 ? n->strips[n->strip_count - 1] : TL_NONE;
    n->strips = tl_grow(n->strips, (size_t)n->strip_count, sizeof *n->strips);
    n->strips[n->strip_count++] = strip;
    if (last != TL_NONE) {
        const hole from = take_any(p, last), to = take_any(p, strip);
        add_link(p, n, from, to);
    }
    return strip;
}

/* One hole is kept for the link to another strip, as long as there is more to come. */
static bool may_use(const placer *p, const node *n, int i)
{
    const bool is_last = i == n->strip_count - 1;
    return free_holes(p, n->strips[i]) > (is_last && n->uses > 1 ? 1 : 0);
}

static hole take_hole(placer *p, node *n)
{
    for (int i = 0; i < n->strip_count; i++) {
        if (may_use(p, n, i)) {
            n->uses--;
            return take_any(p, n->strips[i]);
        }
    }
    const int strip = add_strip(p, n);
    n->uses--;
    return take_any(p, strip);
}

static hole take_wire_end(placer *p, node *n, const hole *near)
{
    hole at;
    if (!has_rail(p, n))
        return take_hole(p, n);
    n->uses--;
    for (int off = 0; off < p->boards; off++) { /* on another board where this one's are full */
        for (int side = 0; side < 2; side++) {
            hole from = *near;
            from.board = (near->board + off) % p->boards;
            if (take_rail(p, n, &from, near->kind != HOLE_NONE ? (near->half + side) % 2 : side, &at)) {
                p->out.boards = at.board >= p->out.boards ? at.board + 1 : p->out.boards;
                return at;
            }
        }
    }
    return (hole){.kind = HOLE_NONE};
}

/* --- parts --- */

/* Along a row of one half: all holes from one leg to the other are free. */
static bool lie_along(placer *p, node *a, node *b, placed *is)
{
    for (int i = 0; i < a->strip_count; i++) {
        for (int k = 0; k < b->strip_count; k++) {
            const hole one = hole_of(p, a->strips[i], 0), other = hole_of(p, b->strips[k], 0);
            const int left = one.column < other.column ? one.column : other.column,
                      right = one.column < other.column ? other.column : one.column;
            if (one.board != other.board || one.half != other.half || right - left < BODY_HOLES ||
                !may_use(p, a, i) || !may_use(p, b, k))
                continue;
            for (int row = 1; row < p->on->rows; row++) {
                bool clear = true;
                for (int column = left; column <= right; column++)
                    clear = clear && !*at_hole(p, &(hole){HOLE_STRIP, one.board, one.half, column, row});
                if (!clear)
                    continue;
                for (int column = left; column <= right; column++)
                    *at_hole(p, &(hole){HOLE_STRIP, one.board, one.half, column, row}) = true;
                *is = (placed){one, other, true, ""};
                is->from.row = is->to.row = row;
                a->uses--;
                b->uses--;
                return true;
            }
        }
    }
    return false;
}

/* From the outermost hole of a strip straight to a rail, over what lies between. */
static bool lie_to_rail(placer *p, node *a, node *rail, placed *is)
{
    for (int i = 0; i < a->strip_count; i++) {
        const hole at = hole_of(p, a->strips[i], 0);
        const int row = rail_row(p, rail, at.half);
        bool clear = row != TL_NONE && !*at_hole(p, &at) && may_use(p, a, i);
        for (int over = row; clear && over < p->on->rails; over++)
            clear = !*at_rail(p, &(hole){HOLE_RAIL, at.board, at.half, at.column, over});
        if (!clear)
            continue;
        for (int over = row; over < p->on->rails; over++)
            *at_rail(p, &(hole){HOLE_RAIL, at.board, at.half, at.column, over}) = true;
        *at_hole(p, &at) = true;
        *is = (placed){at, {HOLE_RAIL, at.board, at.half, at.column, row}, true, ""};
        a->uses--;
        rail->uses--;
        return true;
    }
    return false;
}

/* A strip right beside one that has room for it, joined to the other node by a link. */
static void lie_beside(placer *p, node *a, node *b, placed *is)
{
    node own = {.of = b->of, .end = b->end, .uses = 2};
    (void)add_strip(p, a); /* the next two strips are neighbours, or the first of the other half */
    (void)add_strip(p, &own);
    if (hole_of(p, a->strips[a->strip_count - 1], 0).half != hole_of(p, own.strips[0], 0).half ||
        hole_of(p, a->strips[a->strip_count - 1], 0).board != hole_of(p, own.strips[0], 0).board)
        (void)add_strip(p, a);
    if (hole_of(p, a->strips[a->strip_count - 1], 0).half != hole_of(p, own.strips[0], 0).half)
        (void)add_strip(p, &own);
    if (lie_along(p, a, &own, is)) {
        const hole from = take_any(p, own.strips[own.strip_count - 1]);
        add_link(p, b, from, take_wire_end(p, b, &from));
    }
    free(own.strips);
}

static void turn(placed *is)
{
    const hole from = is->from;
    is->from = is->to;
    is->to = from;
}

static void place_part(placer *p, node *a, node *b, placed *is)
{
    const bool turned = has_rail(p, a); /* a strip first, then a rail */
    node *one = turned ? b : a, *other = turned ? a : b;
    const bool rail = has_rail(p, other);
    for (int k = 0; k < 2; k++) {
        node *n = k == 0 ? one : other;
        if (n->strip_count == 0 && !has_rail(p, n))
            (void)add_strip(p, n);
    }
    bool done = rail ? lie_to_rail(p, one, other, is) : lie_along(p, one, other, is);
    if (!done && rail && rail_row(p, other, 0) != TL_NONE && rail_row(p, other, 1) != TL_NONE) {
        (void)add_strip(p, one);
        done = lie_to_rail(p, one, other, is);
    }
    if (!done)
        lie_beside(p, one, other, is);
    if (turned)
        turn(is);
}

/* --- all of it --- */

static void place_row(placer *p, int i)
{
    const wire *w = &p->list->wires[i];
    placed *is = &p->out.rows[i];
    if (!is_wanted(w))
        return;
    node *end[2];
    for (int e = 0; e < 2; e++) {
        const int which = p->ends[i][e];
        end[e] = which != TL_NONE && !stays_outside(p, which) ? &p->nodes[which] : NULL;
    }
    node *a = end[0], *b = end[1];
    if (w->path[0] != '\0' && a != NULL && b != NULL) {
        place_part(p, a, b, is);
        return;
    }
    if (a != NULL)
        is->from = take_wire_end(p, a, &(hole){.kind = HOLE_NONE});
    if (b != NULL)
        is->to = take_wire_end(p, b, &is->from);
}

/* What is not on the board has its leg in the strip. */
static void place_leads(placer *p)
{
    for (int i = 0; i < p->node_count; i++) {
        node *n = &p->nodes[i];
        if (!is_outside(p, n) || n->strip_count == 0)
            continue;
        p->out.leads = tl_grow(p->out.leads, (size_t)p->out.lead_count, sizeof *p->out.leads);
        placed *lead = &p->out.leads[p->out.lead_count++];
        *lead = (placed){.from = take_hole(p, n)};
        name_node(n, lead->what);
    }
}

/* Every rail, and every supply that has a strip, from where it comes. */
static void place_feeds(placer *p)
{
    for (int i = 0; i < p->node_count; i++) {
        node *n = &p->nodes[i];
        for (int board = 0; board < p->out.boards && has_rail(p, n); board++) {
            for (int side = 0; side < 2; side++) {
                const int row = rail_row(p, n, side);
                if (row != TL_NONE)
                    add_link(p, n, (hole){.kind = HOLE_NONE}, (hole){HOLE_RAIL, board, side, 0, row});
            }
        }
        if (!has_rail(p, n) && n->strip_count > 0 && !is_shared(p, n) &&
            (is_supply(n) || is_header_pin(p, &n->end)))
            add_link(p, n, (hole){.kind = HOLE_NONE}, take_hole(p, n));
    }
}

placement placement_of(const tl_plan *plan, const wiring *list)
{
    placer p = {.plan = plan, .on = plan->plug_in, .list = list};
    p.out.rows = tl_alloc((size_t)list->count + 1, sizeof *p.out.rows);
    p.out.count = list->count;
    p.ends = tl_alloc((size_t)list->count + 1, sizeof *p.ends);
    for (int i = 0; i < list->count; i++) {
        const bool wanted = is_wanted(&list->wires[i]);
        p.ends[i][0] = wanted ? count_use(&p, &list->wires[i], &list->wires[i].from) : TL_NONE;
        p.ends[i][1] = wanted ? count_use(&p, &list->wires[i], &list->wires[i].to) : TL_NONE;
    }
    for (int i = 0; i < p.node_count; i++) /* its lead, or what feeds it */
        p.nodes[i].uses += p.nodes[i].end.kind != END_BEHIND;
    /* No row takes more than five strips. */
    p.boards = (p.node_count + 5 * list->count) / strips_of_board(&p) + 2;
    p.taken = tl_alloc((size_t)(p.boards * 2 * p.on->columns * p.on->rows), sizeof *p.taken);
    p.rail_taken = tl_alloc((size_t)(p.boards * 4 * p.on->columns), sizeof *p.rail_taken);
    choose_rails(&p);
    for (int i = 0; i < list->count; i++)
        place_row(&p, i);
    place_leads(&p);
    const int strips = (p.next + strips_of_board(&p) - 1) / strips_of_board(&p);
    p.out.boards = strips > p.out.boards ? strips : p.out.boards > 0 ? p.out.boards : 1;
    place_feeds(&p);
    for (int i = 0; i < p.node_count; i++)
        free(p.nodes[i].strips);
    free(p.nodes);
    free(p.ends);
    free(p.taken);
    free(p.rail_taken);
    return p.out;
}

void placement_free(placement *of)
{
    free(of->rows);
    free(of->links);
    free(of->leads);
    *of = (placement){.rows = NULL};
}

void hole_in_words(const placement *of, const tl_plug_in *on, const hole *at, char text[16])
{
    char board[8] = "";
    if (of->boards > 1)
        snprintf(board, sizeof board, "%d:", (at->board + 1) % 1000);
    text[0] = '\0';
    if (at->kind == HOLE_STRIP)
        snprintf(text, 16, "%s%c%d", board,
                 (char)('a' + (at->half == 0 ? at->row : 2 * on->rows - 1 - at->row)),
                 (at->column + 1) % 1000);
    else if (at->kind == HOLE_RAIL)
        snprintf(text, 16, "%s%c%d%s", board,
                 on->rails == 2 && at->row == 1    ? '-'
                 : at->half == 1 && on->rails == 1 ? '-'
                                                   : '+',
                 (at->column + 1) % 1000, at->half == 1 ? "'" : "");
}
