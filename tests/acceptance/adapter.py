# SPDX-License-Identifier: MIT
"""Adapter between the cases and the project, written for its command's --json and, where the command does not answer, its public C API
(include/tinyladder/*.h, called by ctypes in a shared library made from the project's own sources). It translates only: units, spelling, which
part is which. What is not offered at all is left NotImplemented, and named in MISSING.

Environment: TINYLADDER (the command), TINYLADDER_LIB (the shared library; see build_lib.sh), CORE_INTERVAL (set: intervals of counts by the
core's tl_accuracy_interval() instead of a plan's tl_plan_value()), ACCEPTANCE_TMP (where plans, boards and drawers are written).
HOW[kind] counts what each kind leant on: 'command', 'C API', 'net' (the public netlist solver), 'derived' (difference or quotient of two answers).
"""
# ruff: noqa: E501
import collections
import ctypes as C
import json
import math
import os
import re
import subprocess
import sys
import tempfile

from score import Refused  # noqa: F401

TOOL = os.environ.get("TINYLADDER", "tinyladder")
LIB = os.environ.get("TINYLADDER_LIB", os.path.join(os.path.dirname(os.path.abspath(__file__)), "libtinyladder-all.so"))
if not os.path.exists(LIB):
    raise SystemExit("adapter: make the library first: sh build_lib.sh PROJECT %s; and set TINYLADDER to the command" % LIB)
L = C.CDLL(LIB)
HOW = collections.defaultdict(collections.Counter)
TMP = tempfile.mkdtemp(prefix="acceptance-", dir=os.environ.get("ACCEPTANCE_TMP"))
NAN, INF = math.nan, math.inf


def how(word):
    f = sys._getframe(1)
    while f and not f.f_code.co_name.split("_")[0] in KINDS:
        f = f.f_back
    if f:
        HOW[f.f_code.co_name][word] += 1


KINDS = ("counts dividers partners pots pulls clamps shifts muxes ladders lamps loads runtime thermometers trims acquisition marking preferred "
         "quantities contacts").split()

# --- the command ---


def run(*words, text=None):
    how("command")
    return subprocess.run([TOOL, *words], input=text, capture_output=True, text=True, timeout=60, check=False)


def ask(*words, text=None):
    """The tool's --json answer; Refused on exit status 2 or 3."""
    done = run(*words, "--json", text=text)
    if done.returncode in (2, 3):
        raise Refused(done.stderr)
    return json.loads(done.stdout)


def write(name, text):
    path = os.path.join(TMP, name)
    with open(path, "w", encoding="utf-8") as fh:
        fh.write(text)
    return path


def drawer(values, tolerance="0 %", kind="resistors"):
    """values: list of texts, or {text: count}."""
    rows = []
    for v in values:
        n = ", count: %d" % values[v] if isinstance(values, dict) else ""
        rows.append("  - {values: [%s], tolerance: %s%s}" % (tidy(v), tidy(tolerance).lstrip("±"), n))
    return write("d.drawer.yaml", "tinyladder: drawer 1\ntitle: d\n%s:\n%s\n" % (kind, "\n".join(rows)))


def tidy(t):
    return str(t).replace("Ω", "ohm").strip()


def size(what, drawer=None, **options):
    words = []
    for k, v in options.items():
        k = "--" + k.rstrip("_").replace("_", "-")
        words += [k] if v is True else [] if v in (None, False) else [k + "=" + tidy(v)]
    if drawer:
        words += ["--drawer", drawer]
    return ask("size", what, *words)


def exactly(answer, name):
    """A figure that size wants exactly, before any value on offer."""
    for x in answer["exact"]:
        if x["name"] == name:
            return x["value"]
    return None


def fig(choice, name):
    for f in choice["figures"]:
        if f["name"] == name:
            return f["value"]
    raise KeyError(name)


def lim(choice, name):
    for f in choice["figures"]:
        if f["name"] == name:
            return f["limit"]
    raise KeyError(name)


def first(answer):
    """The first choice; where nothing does it, the first miss that has figures."""
    if answer["choices"]:
        return answer["choices"][0]
    for m in answer["rejected"]:
        if m["choice"]["figures"]:
            return m["choice"]
    raise Refused(answer["refusal"] or "no choice")


def note(answer, pattern):
    """A number that is told in a sentence only."""
    for n in answer["notes"]:
        m = re.search(pattern, n)
        if m:
            return m
    return None


SI = {"p": 1e-12, "n": 1e-9, "µ": 1e-6, "u": 1e-6, "m": 1e-3, "": 1, "k": 1e3, "M": 1e6, "G": 1e9}
NUM = r"(-?[0-9.]+) ?([pnµumkMG]?)(ohm|Ω|V|A|s|F|Hz|W)"


def num(m, i=1):
    return float(m.group(i)) * SI[m.group(i + 1)]


def val(text):
    """'4.7 kΩ' of a case as a number."""
    m = re.fullmatch(r"[±]?\s*(-?[0-9.e+-]+)\s*([pnµumkMG]?)\s*(Ω|ohm|V|A|s|F|Hz|W|bit/s|%|degC|K|LSB|ppm/K|counts)?(?: bit)?", str(text).strip())
    return float(m.group(1)) * SI[m.group(2)]


def span(text):
    """'a .. b', 'a ±p %', 'a' of a case -> (low, nominal, high), by the project's own reader."""
    dim = {"Ω": 0, "m": 0, "V": 1, "A": 2, "F": 3, "s": 4}.get(re.sub(r"\(exact\)|±.*", "", text).strip()[-1], 1)
    return quantity(text.replace("(exact)", "").strip(), dim)


# --- plans ---

BOARD = """tinyladder: board 1
title: B
supplies: {logic: %(rail)s}
every-pin: {supply: logic, limits: %(limits)s, leakage: %(leakage)s, vil: %(vil)s, vih: %(vih)s%(more)s}
pins:
  A0 .. A9: {channel: 0 .. 9}
  D0 .. D19: {}
converters:
  main:
    bits: %(bits)s
    steps: %(steps)s
    word: {align: right, in: %(width)s}
    references: {ref: %(ref)s}
    sampling: {capacitor: %(cs)s, switch: %(rs)s%(starts)s}
    acquisition: [%(acq)s]
    conversion: %(conversion)s
"""


def board(**k):
    d = dict(rail="3.3 V", limits="-0.3 V .. rail + 0.3 V", leakage="±0 nA", vil="0.3 rail", vih="0.7 rail", more="", bits=12, steps="half", width=16,
             ref="logic", cs="0.001 pF", rs="0.001 ohm", starts="", acq="1 us", conversion="0 us")
    d.update(k)
    return write("b.board.yaml", BOARD % d)


def plan(body, **k):
    board(**k)
    return write("p.plan.yaml", "tinyladder: plan 1\ntitle: p\nboard: b.board.yaml\n" + body)


def check(path):
    """-> answer; unreadable plans are findings too: {'unreadable': text}"""
    done = run("check", path, "--json")
    if done.returncode in (2, 3):
        try:
            return json.loads(done.stdout)
        except ValueError:
            raise Refused(done.stderr + done.stdout) from None
    return json.loads(done.stdout)


def worst(answer, signal="s"):
    for w in answer["worst_cases"]:
        if w["signal"] == signal:
            return w
    raise KeyError(signal)


def convert(path, signal, rows, *options):
    done = run("convert", path, signal, *options, text="".join("%s\n" % r for r in rows))
    if done.returncode in (2, 3):
        raise Refused(done.stderr)
    return [r.split(",") for r in done.stdout.splitlines()], done


# --- structs of the public headers ---


class Quantity(C.Structure):
    _fields_ = [("low", C.c_double), ("nominal", C.c_double), ("high", C.c_double), ("toleranced", C.c_bool)]


class TextError(C.Structure):
    _fields_ = [("offset", C.c_size_t), ("text", C.c_char * 160)]


class Word(C.Structure):
    _fields_ = [("bits", C.c_uint8), ("width", C.c_uint8), ("align", C.c_uint8), ("sign", C.c_uint8), ("sign_filled", C.c_bool)]


class ScaleConfig(C.Structure):
    _fields_ = [("low", C.c_int32), ("high", C.c_int32), ("bits", C.c_uint8), ("steps", C.c_int), ("num", C.c_uint32), ("den", C.c_uint32),
                ("offset", C.c_int32), ("has_sign", C.c_bool)]


class Scale(C.Structure):
    _fields_ = [("base_uv", C.c_int32), ("base_part", C.c_uint16), ("step_part", C.c_uint16), ("step_uv", C.c_uint16), ("step_high", C.c_uint16),
                ("last", C.c_uint16)]


class Wide(C.Structure):
    _fields_ = [("base", C.c_uint64), ("step", C.c_uint64), ("last", C.c_uint32)]


class Accuracy(C.Structure):
    _fields_ = [("line", Wide), ("around", C.c_uint64), ("share", C.c_uint32), ("zero", C.c_int32)]


class Sample(C.Structure):
    _fields_ = [("value", C.c_int32), ("flags", C.c_uint8)]


class Mean(C.Structure):
    _fields_ = [("sum", C.c_int64), ("wanted", C.c_uint16), ("fed", C.c_uint16), ("flags", C.c_uint8)]


class Curve(C.Structure):
    _fields_ = [("law", C.c_int), ("unit", C.c_char * 16), ("ohms", C.c_double), ("at", C.c_double), ("beta", C.c_double), ("beta_off", C.c_double),
                ("steinhart", C.c_double * 3), ("points", C.c_void_p), ("count", C.c_int), ("share_low", C.c_double), ("share_high", C.c_double)]


class Pair(C.Structure):
    _fields_ = [("a", C.c_double), ("b", C.c_double)]


class FaultConfig(C.Structure):
    _fields_ = [("open_level", C.c_int32), ("short_level", C.c_int32), ("hysteresis", C.c_int32), ("substitute", C.c_int32), ("open_side", C.c_uint8),
                ("short_side", C.c_uint8), ("has_substitute", C.c_bool)]


class Fault(C.Structure):
    _fields_ = [("last_good", C.c_int32), ("age_us", C.c_uint32), ("seen_us", C.c_uint32), ("flags", C.c_uint8), ("any", C.c_bool)]


class Button(C.Structure):
    _fields_ = [("needed_us", C.c_uint32), ("steady_us", C.c_uint32), ("seen_us", C.c_uint32), ("closings", C.c_uint16), ("line", C.c_uint8), ("closed_is_low", C.c_bool),
                ("closed", C.c_bool), ("seen", C.c_bool)]


class Pulse(C.Structure):
    _fields_ = [("length_us", C.c_uint32), ("seen_us", C.c_uint32), ("rising", C.c_uint16), ("falling", C.c_uint16), ("high", C.c_bool), ("any", C.c_bool),
                ("whole", C.c_bool)]


class Length(C.Structure):
    _fields_ = [("high", C.c_bool), ("us", C.c_uint32)]


class Threshold(C.Structure):
    _fields_ = [("start", C.c_int32), ("stop", C.c_int32)]


class Partner(C.Structure):
    _fields_ = [("mohm", C.c_uint32), ("bits", C.c_uint8), ("steps", C.c_uint8), ("above", C.c_bool)]


class NetValue(C.Structure):
    _fields_ = [("factor", C.c_double), ("first", C.c_int), ("constant", C.c_double), ("slope", C.c_double), ("second", C.c_int), ("extra", C.c_double),
                ("third", C.c_int)]


class Figure(C.Structure):
    _fields_ = [("kind", C.c_int), ("of", C.c_int), ("less", NetValue), ("against", C.c_int)]


class Bounds(C.Structure):
    _fields_ = [("low", C.c_double), ("nominal", C.c_double), ("high", C.c_double), ("outer", C.c_bool), ("alow", C.c_double), ("ahigh", C.c_double),
                ("params", C.c_int), ("param", C.c_int * 18), ("low_at", C.c_double * 18), ("high_at", C.c_double * 18)]


class NetState(C.Structure):
    _fields_ = [("values", C.c_void_p), ("closed", C.c_void_p)]


class Interval(C.Structure):
    _fields_ = [("low", C.c_double), ("high", C.c_double)]


for name, res, args in [
        ("tl_response_ohms", C.c_double, [C.c_void_p, C.c_double]), ("tl_response_quantity", C.c_double, [C.c_void_p, C.c_double]),
        ("tl_net_new", C.c_void_p, []), ("tl_net_add_node", C.c_int, [C.c_void_p, C.c_char_p]),
        ("tl_net_add_param", C.c_int, [C.c_void_p, C.c_char_p, C.c_double, C.c_double, C.c_double, C.c_bool]),
        ("tl_net_set_rail", None, [C.c_void_p, C.c_int, NetValue]), ("tl_net_of", NetValue, [C.c_int]), ("tl_net_fixed", NetValue, [C.c_double]),
        ("tl_net_add_resistor", C.c_int, [C.c_void_p, C.c_char_p, C.c_int, C.c_int, NetValue]),
        ("tl_net_add_capacitor", C.c_int, [C.c_void_p, C.c_char_p, C.c_int, C.c_int, NetValue]),
        ("tl_island_new", C.c_void_p, [C.c_void_p, C.c_int, C.c_int]),
        ("tl_island_bounds", C.c_int, [C.c_void_p, C.c_void_p, Figure, C.c_void_p]),
        ("tl_transient_new", C.c_void_p, [C.c_void_p, C.c_void_p]),
        ("tl_transient_step", None, [C.c_void_p, C.c_double, C.c_void_p]), ("tl_transient_settle", None, [C.c_void_p, C.c_void_p]),
        ("tl_island_size", C.c_int, [C.c_void_p]), ("tl_island_index", C.c_int, [C.c_void_p, C.c_int]),
        ("tl_series_value", C.c_uint, [C.c_int, C.c_size_t]), ("tl_series_count", C.c_size_t, [C.c_int]),
        ("tl_letter_code_write", C.c_char_p, [C.c_double, C.c_char_p]),
        ("tl_colour_bands", C.c_int, [C.c_double, C.c_double, C.c_void_p]),
        ("tl_plan_load", C.c_void_p, [C.c_char_p, C.c_void_p]), ("tl_report_new", C.c_void_p, []), ("tl_circuit_new", C.c_void_p, [C.c_void_p]),
        ("tl_plan_state_codes", C.c_int, [C.c_void_p, C.c_int, C.c_int, C.c_void_p, C.c_void_p]),
        ("tl_scale_uv", C.c_int32, [C.c_void_p, C.c_uint16]), ("tl_wide_uv", C.c_int32, [C.c_void_p, C.c_uint32]),
        ("tl_accuracy_interval", None, [C.c_void_p, C.c_uint32, C.c_void_p, C.c_void_p]),
        ("tl_scale_clipped", C.c_uint8, [C.c_void_p, C.c_uint16]),
        ("tl_word_count", C.c_uint32, [C.c_void_p, C.c_int32]),
        ("tl_duty_of", C.c_uint16, [C.c_uint16, C.c_uint16, C.c_uint16]), ("tl_threshold_next", C.c_bool, [C.c_void_p, C.c_bool, C.c_int32]),
        ("tl_button_feed", C.c_int, [C.c_void_p, C.c_bool, C.c_uint32]),
        ("tl_pulse_feed", C.c_bool, [C.c_void_p, C.c_bool, C.c_uint32, C.c_void_p]),
        ("tl_mean_feed", C.c_bool, [C.c_void_p, C.c_void_p, C.c_void_p]),
        ("tl_response_fit", C.c_bool, [C.c_int, C.c_void_p, C.c_int, C.c_void_p, C.c_void_p]),
        ("tl_quantity_read", C.c_bool, [C.c_char_p, C.c_int, C.c_void_p, C.c_void_p])]:
    getattr(L, name).restype = res
    getattr(L, name).argtypes = args


def ok(status):
    if status != 0:
        raise Refused("status %d" % status)


def quantity(text, dim):
    q, e = Quantity(), TextError()
    if not L.tl_quantity_read(text.encode(), dim, C.byref(q), C.byref(e)):
        raise Refused(e.text.decode(errors="replace"))
    return q.low, q.nominal, q.high


class Net:
    """The public netlist: rails, resistors, capacitors; worst cases and exact steps."""

    def __init__(self):
        how("net")
        self.n, self.nodes, self.rows, self.parts = L.tl_net_new(), {"ground": 0}, [], {}

    def node(self, name):
        if name not in self.nodes:
            self.nodes[name] = L.tl_net_add_node(self.n, name.encode())
        return self.nodes[name]

    def param(self, name, low, nominal, high):
        self.rows.append(nominal)
        return L.tl_net_add_param(self.n, name.encode(), low, nominal, high, False)

    def rail(self, name, s):
        L.tl_net_set_rail(self.n, self.node(name), L.tl_net_of(self.param("rail " + name, *s)))

    def r(self, name, a, b, s):
        self.parts[name] = L.tl_net_add_resistor(self.n, name.encode(), self.node(a), self.node(b), L.tl_net_of(self.param(name, *s)))

    def c(self, name, a, farads):
        self.parts[name] = L.tl_net_add_capacitor(self.n, name.encode(), self.node(a), 0, L.tl_net_of(self.param(name, farads, farads, farads)))

    def bounds(self, kind, of, at):
        if not hasattr(self, "island"):
            self.island = L.tl_island_new(self.n, 1, self.node(at))
        b = Bounds()
        f = Figure(kind, of, L.tl_net_fixed(0.0), 0)
        closed = (C.c_bool * 4)()
        fault = L.tl_island_bounds(self.island, closed, f, C.byref(b))
        if fault:
            raise Refused("net fault %d" % fault)
        return b

    def volts(self, name):
        return self.bounds(0, self.node(name), name)

    def ohms(self, name):
        return self.bounds(1, self.node(name), name)

    def amperes(self, part, at):
        return self.bounds(2, self.parts[part], at)

    def watts(self, part, at):
        return self.bounds(4, self.parts[part], at)

    def step(self, at, start, times):
        """start: volts by node name; -> volts of node `at` after each of the (rising) times."""
        island = L.tl_island_new(self.n, 1, self.node(at))
        values = (C.c_double * len(self.rows))(*self.rows)
        closed = (C.c_bool * 4)()
        st = NetState(C.cast(values, C.c_void_p), C.cast(closed, C.c_void_p))
        t = L.tl_transient_new(island, C.byref(st))
        v = (C.c_double * L.tl_island_size(island))()
        for k, x in start.items():
            v[L.tl_island_index(island, self.nodes[k])] = x
        out, now = [], 0.0
        for x in times:
            if x > now:
                L.tl_transient_step(t, x - now, v)
            now = x
            out.append({k: v[L.tl_island_index(island, i)] for k, i in self.nodes.items() if L.tl_island_index(island, i) >= 0})
        return out


def exact(x):
    return (x, x, x)


def spread(nominal, percent):
    t = val(percent) / 100
    return (nominal * (1 - t), nominal, nominal * (1 + t))


def missing(why):
    how("missing")
    raise NotImplementedError(why)


# --- counts ---


def uv(text):
    return round(val(text) * 1e6)


def in_i32(x):
    if not -2**31 <= x < 2**31:
        raise Refused("int32")                                          # the API's type: microvolts in int32
    return x


def scale_of(g, steps, kind=Scale):
    cfg = ScaleConfig(in_i32(uv(g["reference low"])), in_i32(uv(g["reference high"])), g["bits"], steps, 1, 1, 0, "coding" in g and g["coding"] != "unsigned")
    s = kind()
    ok((L.tl_scale_init if kind is Scale else L.tl_wide_init)(C.byref(s), C.byref(cfg)))
    return s, cfg


HOST = os.environ.get("CORE_INTERVAL") is None                          # else the core's own tl_accuracy_interval()
STEPS = {"half": 0, "full": 1, "end-to-end": 2}


def core_interval(g, count):
    _, cfg = scale_of(g, STEPS[g["step kind"]], Wide)
    a, lo, hi = Accuracy(), C.c_int32(), C.c_int32()
    ok(L.tl_accuracy_init(C.byref(a), C.byref(cfg), 0, 0))
    L.tl_accuracy_interval(C.byref(a), count, C.byref(lo), C.byref(hi))
    return lo.value, hi.value


def counts_word(g):
    how("C API")
    sign = {"unsigned": 0, "two's complement": 1, "offset binary": 2}[g["coding"]]
    w = Word(g["bits"], int(g["word"].split()[0]), {"right": 0, "left": 1, "stretched": 2}[g["alignment"]], sign,
             g.get("unused bits", "sign-extended") == "sign-extended")
    if "word received" in g:
        word = int(g["word received"], 16)
    else:
        raw = [int(b, 16) for b in g["bytes as they arrive"]]
        out = C.c_uint32()
        ok(L.tl_word_join((C.c_uint8 * len(raw))(*raw), C.c_uint8(len(raw)), 0 if g["byte order"] == "high first" else 1, C.byref(out)))
        word = out.value
    s = Sample()
    ok(L.tl_word_sample(C.byref(w), C.c_uint32(word), C.byref(s)))
    count = L.tl_word_count(C.byref(w), s.value)
    steps = STEPS["end-to-end" if g["value"] == "end-to-end" else g["step kind"]]
    clipped = "low" if s.flags & 2 else "high" if s.flags & 4 else "no"
    out = {"code": s.value, "clipped": clipped}
    if g["bits"] <= 16:
        sc, _ = scale_of(g, steps)
        out["microvolts"] = L.tl_scale_uv(C.byref(sc), count)
        lo, hi = core_interval(g, count)
        host = host_interval(g, s.value)
        a, b = host if host and HOST else (lo, hi)
        out["interval, low and high"] = ["open" if clipped == "low" else a, "open" if clipped == "high" else b]
    else:
        sc, _ = scale_of(g, steps, Wide)
        out["microvolts"] = L.tl_wide_uv(C.byref(sc), count)
        a, b = (HOST and host_interval(g, s.value)) or core_interval(g, count)
        out["interval, low and high"] = ["open" if clipped == "low" else a, "open" if clipped == "high" else b]
    return out


class Value(C.Structure):
    _fields_ = [("pin_volts", C.c_double), ("pin", Interval), ("value", C.c_double), ("within", Interval), ("decimals", C.c_int), ("percent", C.c_int), ("button", C.c_int),
                ("none", C.c_bool), ("open", C.c_bool), ("shorted", C.c_bool)]


def host_interval(g, code):
    """What a plan says of a code (tl_plan_value), in uV at the pin; None where no plan can describe such references."""
    lo, hi, signed = val(g["reference low"]), val(g["reference high"]), g["coding"] != "unsigned"
    if signed and lo == -hi:
        span_ = "±%g V" % hi
    elif not signed and lo == 0:
        span_ = None
    else:
        return None
    if signed or g["bits"] > 16:
        write("w.converter.yaml", "tinyladder: converter 1\ntitle: W\nbus: i2c\nsupply: 2 V .. 6 V\nbits: %d\nsteps: %s\nword: {%sin: 32}\nranges: [%s]\n"
              "inputs: [in-0]\nlimits: -2000 V .. 2000 V\nconversion: 1 ms\nframe: {settings: 0x01, result: 0x00, ready: bit 7, longest: 80 ms}\nregisters: {set: {width: 8, fields: {start: {bits: 7, wait: 0, now: 1}}}}\n" %
              (g["bits"], g["step kind"], "sign: twos-complement, fill: sign, " if signed else "", span_ or "0 V .. %g V" % hi))
        p = plan("buses: {b: {pins: {scl: D0, sda: D1}, stages: [pull: {up: 2k2, to: logic}]}}\nconverters: {w: {part: w.converter.yaml, supply: logic, bus: b, address: 0x20}}\n"
                 "signals:\n  s: {source: {voltage: %g V .. %g V}, pin: w.in-0, reading: {of: pin, unit: V, decimals: 6}}\n" % (lo, hi))
        b = os.path.join(TMP, "b.board.yaml")
        text = open(b).read().replace("  D0 .. D19: {}", "  D0 .. D1: {can: [digital, i2c]}\n  D2 .. D19: {}")
        open(b, "w").write(text)
    else:
        p = plan("signals:\n  s: {source: {voltage: 0 V .. %g V}, pin: A0, reading: {of: pin, unit: V, decimals: 6}}\n" % hi, bits=g["bits"], steps=g["step kind"], ref="%g V" % hi, rail="%g V" % hi)
    report = L.tl_report_new()
    pl = L.tl_plan_load(p.encode(), report)
    if not pl:
        raise Refused("plan: " + run("check", p).stderr)
    c, v = L.tl_circuit_new(pl), Value()
    L.tl_plan_value.argtypes = [C.c_void_p, C.c_int, C.c_double, C.c_void_p]
    fault = L.tl_plan_value(c, 0, code, C.byref(v))
    if fault:
        raise Refused("fault %d" % fault)
    return v.pin.low * 1e6, v.pin.high * 1e6


def counts_sum(g):
    how("C API")
    from fractions import Fraction as Q
    s, _ = scale_of(g, STEPS["end-to-end" if g["value"] == "end-to-end" else g["step kind"]])
    n = 1 << g["bits"]
    got = [L.tl_scale_uv(C.byref(s), k) for k in range(n)]
    ref, lo = Q(uv(g["reference high"]) - uv(g["reference low"])), uv(g["reference low"])
    div, add = (n - 1, Q(0)) if g["value"] == "end-to-end" else (n, Q(0) if g["step kind"] == "half" else Q(1, 2))
    return {"sum": sum(got), "strictly rising": all(a < b for a, b in zip(got, got[1:])),
            "furthest from the exact rational": float(max(abs(got[k] - lo - (k + add) * ref / div) for k in range(n)))}


def counts_mean(g):
    how("C API")
    m, out = Mean(), Sample()
    ok(L.tl_mean_init(C.byref(m), C.c_uint16(len(g["counts"]))))
    w = Word(g["bits"], 16, 0, 0, False)
    for c in g["counts"]:
        s = Sample()
        ok(L.tl_word_sample(C.byref(w), C.c_uint32(c), C.byref(s)))
        done = L.tl_mean_feed(C.byref(m), C.byref(s), C.byref(out))
    assert done
    return {"mean": out.value, "clipped": "low" if out.flags & 2 else "high" if out.flags & 4 else "no"}


def counts_span(g):
    how("command")
    done = run("convert", "--bits=%d" % g["bits"], "--reference=%s..%s" % (g["reference low"].replace(" ", ""), g["reference high"].replace(" ", "")), text="0\n1023\n")
    if done.returncode in (2, 3):
        raise Refused(done.stderr)
    return {"accepted": done.returncode == 0}


# --- quantities, marking, preferred ---

DIM = {"ohm": 0, "volt": 1, "ampere": 2, "farad": 3, "second": 4, "celsius": 10}


def quantities_read(g):
    if "\0" in g["text"]:                                               # a C string cannot hold it: by a plan file
        p = plan("supplies: {x: \"%s\"}\nsignals:\n  s: {source: {rail: x}, pin: A0}\n" % g["text"].replace("\0", "\0"))
        a = check(p)
        if a.get("status") == 3 or a.get("errors", 0):
            raise Refused(str(a["findings"]))
        return {"nominal": a}
    how("C API")
    lo, n, hi = quantity(g["text"], DIM[g["wanted"]])
    return {"low": lo, "nominal": n, "high": hi}


def quantities_parts(g):
    how("C API")
    return {"value": quantity(g["text"], 0)[1]}


def marked(*words):
    a = ask("size", "marking", *words)
    out = {"value": a["value"]}
    if a["tolerance"] is not None:
        out["tolerance"] = a["tolerance"] * 100
    if a["drift_per_k"] is not None:
        out["temperature coefficient"] = a["drift_per_k"] * 1e6
    return a, out


def marking_letter_read(g):
    return marked("--read", g["text"], *(["--farads"] if g["kind"] == "capacitor" else []))[1]


def marking_letter_write(g):
    return {"code": marked("--value", g["value"])[0]["code"]}


def marking_bands_write(g):
    words = ["--value", "%s %s" % (g["value"], g["tolerance"]), "--bands", "%d" % g["bands"]]
    if "temperature coefficient" in g:
        words += ["--drift", g["temperature coefficient"]]
    b = marked(*words)[0]["bands"]
    if not b:                                                           # exit status 1, "so many bands do not hold this value"
        raise Refused("no bands")
    return {"bands in order": b}


def marking_bands_read(g):
    return marked("--read", " ".join(g["bands in order"]))[1]


def preferred_nearest(g):
    return {"nearest": ask("size", "nearest", "--value", pretty(val(g["wanted"])), "--series", g["series"])["nearest"][0]["value_ohm"]}


def preferred_series(g):
    how("C API")
    e = C.c_int()
    assert L.tl_series_read(g["series"].encode(), C.byref(e))
    digits = 1 if int(g["series"][1:]) <= 24 else 2
    return {"values": ["%.*f" % (digits, L.tl_series_value(e.value, i) / 100) for i in range(L.tl_series_count(e.value))]}


def ratio_off(answer, wanted):
    return abs(fig(answer["choices"][0], "ratio") - wanted)


def preferred_pair(g):
    above, below = (float(x) for x in g["ratio wanted"].split("/"))
    d = write("d.drawer.yaml", "tinyladder: drawer 1\nresistors: [{preferred: %s, over: %s .. %s, tolerance: 0 %%}]\n" % (g["series"], tidy(g["from"]), tidy(g["to"])))
    a = size("ratio", d, ratio=g["ratio wanted"], sum=rng(g["sum of legs"]))
    parts = {p["name"]: pretty(p["value"], False) for p in a["choices"][0]["parts"]}
    return {"choice": parts, "ratio error": ratio_off(a, above / below)}


def preferred_network(g):
    above, below = (float(x) for x in g["ratio wanted"].split("/"))
    d = drawer(g["drawer"])
    return {"ratio error": ratio_off(size("ratio", d, ratio=g["ratio wanted"], parts=2), above / below),
            "ratio error with single parts only": ratio_off(size("ratio", d, ratio=g["ratio wanted"]), above / below)}


# --- contacts, lamps, run time ---


OPS = C.CFUNCTYPE(C.c_int, C.c_void_p, C.c_uint8, C.c_int), C.CFUNCTYPE(C.c_int, C.c_void_p, C.POINTER(C.c_uint32))


class Ops(C.Structure):
    _fields_ = [("line_use", OPS[0]), ("more", C.c_void_p * 7), ("clock_us", OPS[1]), ("rest", C.c_void_p * 3)]


class Port(C.Structure):
    _fields_ = [("ops", C.c_void_p), ("context", C.c_void_p), ("reader", C.c_void_p)]


class ButtonConfig(C.Structure):
    _fields_ = [("steady_us", C.c_uint32), ("line", C.c_uint8), ("closed_is_low", C.c_bool), ("internal_pull", C.c_bool)]


def contacts_debounce(g):
    """The level before is the open one; tl_button_init() wants a port, so one that serves a line and a clock at 0."""
    how("C API")

    def clock(_, now):
        now[0] = 0
        return 0
    ops = Ops(line_use=OPS[0](lambda *_: 0), clock_us=OPS[1](clock))
    port = Port(C.cast(C.pointer(ops), C.c_void_p), None, None)
    low = bool(g["level before"])
    b, cfg = Button(), ButtonConfig(int(val(g["steady"]) * 1e6), 0, low, False)
    ok(L.tl_button_init(C.byref(b), C.byref(cfg), C.byref(port)))
    changes, level, got, i = g["raw changes (ms, level)"], g["level before"], [], 0
    for ms in range(changes[-1][0] + 200):
        while i < len(changes) and changes[i][0] <= ms:
            level, i = changes[i][1], i + 1
        e = L.tl_button_feed(C.byref(b), bool(level), ms * 1000)
        if e:
            got.append({"level": int((e == 1) != low), "accepted at": ms, "true since": (b.seen_us - b.steady_us) / 1000})
    return {"accepted": got}


def contacts_edges(g):
    how("C API")
    p, out = Pulse(), Length()
    L.tl_pulse_init(C.byref(p))
    for i, x in enumerate(g["levels in order"]):
        L.tl_pulse_feed(C.byref(p), bool(x), i * 1000, C.byref(out))
    return {"changes": p.rising + p.falling, "rises": p.rising, "falls": p.falling}


def contacts_lengths(g):
    how("C API")
    p, out, levels, lengths = Pulse(), Length(), [], []
    L.tl_pulse_init(C.byref(p))
    per = 1000 if "changes (ms, level)" in g else 1
    rows = g["changes (ms, level)"] if per == 1000 else g["changes (us on a clock of 32 bit, level)"]
    L.tl_pulse_feed(C.byref(p), not g["level before"], 2**32 - 1, C.byref(out))     # so that the level before began with an edge, at 0
    L.tl_pulse_feed(C.byref(p), bool(g["level before"]), 0, C.byref(out))
    for t, x in rows:
        if L.tl_pulse_feed(C.byref(p), bool(x), t * per, C.byref(out)):
            levels.append(int(out.high))
            lengths.append(out.us / 1000 if per == 1000 else (out.us, "us"))
    return {"levels": levels, "lengths": lengths}


def level_of(count, last, hyst, n, state):
    s = C.c_uint8(state)
    ok(L.tl_level_of(C.c_uint16(count), C.c_uint16(0), C.c_uint16(last), C.c_uint16(hyst), C.c_uint8(n), C.byref(s)))
    return s.value


def lamps_levels(g):
    how("C API")
    return {"lamps lit": [level_of(c, (1 << g["bits"]) - 1, 0, g["lamps"], 0) for c in g["counts"]]}


def lamps_hysteresis(g):
    how("C API")
    out, s = [], g["start"]
    for c in g["counts in order"]:
        s = level_of(c, (1 << g["bits"]) - 1, int(g["hysteresis"].split()[0]), g["lamps"], s)
        out.append(s)
    return {"lamps lit": out}


def lamps_duty(g):
    how("C API")
    return {"duty": [L.tl_duty_of(c, (1 << g["bits"]) - 1, g["duty steps"]) for c in g["counts"]]}


def lamps_threshold(g):
    how("C API")
    t, on, out = Threshold(int(val(g["start below"])), int(val(g["stop above"]))), g["start"] == "on", []
    for x in g["moisture in order, %"]:
        on = bool(L.tl_threshold_next(C.byref(t), on, x))
        out.append(on)
    return {"on": out}


def within(answer, name):
    """Whether this figure of the only candidate keeps to its limit, whatever else rules it out."""
    c = (answer["choices"] or [m["choice"] for m in answer["rejected"] if m["choice"]["parts"]])[0]
    return fig(c, name) <= lim(c, name)


def lamps_resistor(g):
    e, o = span(g["rail"])[1], span(g["forward voltage"])[1]
    tol, fit = [x.strip() for x in g["resistor"].split(",")]
    x = size("lamp", supply="%g V" % e, forward="%g V" % o, current=g["current wanted"], drop=g["driver's drop at that current"], tolerance="0%", series="E12", top=1)
    ideal = num(note(x, NUM + " wanted"))
    r = first(x)["parts"][0]["value"] if fit.startswith("next") else val(fit)
    d0 = drawer(["%g ohm" % r])
    nom = first(size("lamp", d0, supply="%g V" % e, forward="%g V" % o, current="1 A", drop=g["driver's drop at that current"]))
    d = drawer(["%g ohm" % r], tol)
    ask_ = dict(supply=g["rail"], forward=g["forward voltage"], lamps=g.get("lamps lit together"))
    wide = first(size("lamp", d, current=g["pin limit"], total=g.get("port limit"), **ask_))
    w = size("lamp", d, current=g["pin limit"], **dict(ask_, lamps=None))
    out = {"ideal resistor": ideal, "resistor": r, "current nominal": fig(nom, "current, most"), "current, highest (driver's drop taken as 0)": fig(wide, "current, most"),
           "power in the resistor, highest": fig(wide, "power"), "within the pin's limit": within(w, "current, most")}
    if "lamps lit together" in g:
        out["port current"] = fig(wide, "all lamps")
        out["within the port's limit"] = size("lamp", d, current=g["pin limit"], total=g["port limit"], **ask_)["possible"]
    return out


def runtime_percent(g):
    how("C API")
    a, b = C.c_int32(int(val(g["empty"]))), C.c_int32(int(val(g["full"])))
    L.tl_share_inward(C.byref(a), C.byref(b), C.c_uint8(int(val(g["margin"]))))
    w, out, clipped, faults = Word(g["bits"], 16, 0, 0, False), [], [], 0
    for c in g["counts"]:
        x, s = C.c_uint16(), Sample()
        ok(L.tl_share_of(c, a, b, C.c_uint16(1000), C.byref(x)))
        ok(L.tl_word_sample(C.byref(w), C.c_uint32(c), C.byref(s)))
        out.append(x.value / 10)
        clipped.append("low" if s.flags & 2 else "high" if s.flags & 4 else "no")
        faults += bool(s.flags & (8 | 16))
    return {"percent": out, "clipped": clipped, "faults": faults}


def runtime_faults(g):
    side = {"above": 1, "below": 2}
    if "open" in g and (g["sensor leg"], g["open"].split()[0]) in (("below", "below"), ("above", "above")):
        leg = {"below": "upper: 10k, to: logic", "above": "lower: 10k"}[g["sensor leg"]]
        p = plan("signals:\n  s: {source: {resistance: 1k .. 100k}, stages: [partner: {%s}], pin: A0, reading: {unit: ohm, faults: {open: %s}}}\n" % (leg, g["open"]))
        f = [x for x in check(p)["findings"] if x["slug"].startswith("fault")]
        return {"severity": f[0]["severity"], "finding": f[0]["cause"]} if f else {}
    how("C API")
    ppm = 10000
    cfg = FaultConfig(hysteresis=round(val(g["hysteresis"].split(" of")[0]) * ppm), substitute=-99, has_substitute=True)
    if "open" in g:
        cfg.open_side, cfg.open_level = side[g["open"].split()[0]], round(val(g["open"].split(" ", 1)[1]) * ppm)
    if "short" in g:
        cfg.short_side, cfg.short_level = side[g["short"].split()[0]], round(val(g["short"].split(" ", 1)[1]) * ppm)
    f = Fault()
    ok(L.tl_fault_init(C.byref(f), C.byref(cfg)))
    state, sub = [], []
    for i, x in enumerate(g["shares of span in order"]):
        s, r = Sample(round(val(x) * ppm), 1), Sample()
        L.tl_fault_feed(C.byref(f), C.byref(cfg), C.byref(s), i * 1000, C.byref(r))
        state.append("open" if r.flags & 8 else "short" if r.flags & 16 else "ok")
        sub.append(bool(r.flags & 64))
    return {"state": state, "substituted": sub}


# --- thermometers ---


def curve(**k):
    c = Curve(unit=b"degC", share_low=1, share_high=1)
    for a, b in k.items():
        setattr(c, a, b)
    return c


def thermometers_ohms(g):
    how("C API")
    c = curve(law=1, ohms=span(g["R25"])[1], at=25, beta=val(g["Beta"]))
    return {"resistance": L.tl_response_ohms(C.byref(c), val(g["temperature"]))}


def thermometers_degc(g):
    how("C API")
    c = curve(law=1, ohms=span(g["R25"])[1], at=25, beta=val(g["Beta"]))
    return {"temperature": L.tl_response_quantity(C.byref(c), span(g["resistance"])[1])}


def points(g, key="points"):
    return [(val(p.split(":")[0].replace(" lux", "")), val(p.split(":")[1].strip())) for p in g[key]]


def curve_fit(law, rows):
    how("C API")
    c, res = curve(), (C.c_double * len(rows))()
    if not L.tl_response_fit(law, (Pair * len(rows))(*[Pair(*r) for r in rows]), len(rows), C.byref(c), res):
        raise Refused("no fit")
    return c, list(res)


def thermometers_beta(g):
    return {"Beta": curve_fit(1, points(g))[0].beta}


def thermometers_fit(g):
    c, res = curve_fit(2, points(g))
    return {"A": c.steinhart[0], "B": c.steinhart[1], "C": c.steinhart[2], "temperature at 16.4 kΩ": L.tl_response_quantity(C.byref(c), 16400.0),
            "resistance at 40 degC": L.tl_response_ohms(C.byref(c), 40.0), "largest residual": max(abs(x) for x in res)}


def thermometers_table(g):
    """The table is read by the command, in a plan; its value at these ohms by convert --back and convert through a fine converter."""
    rows = points(g, "table")
    unit = g["table"][0].split(":")[0].split()[1]
    write("t.csv", "%s,ohm\n%s" % (unit, "".join("%.10g,%.10g\n" % r for r in rows)))
    p = plan("signals:\n  s: {source: {resistance: t.csv, law: %s, over: %g .. %g %s}, stages: [partner: {upper: 10k, to: logic}], pin: A0, reading: {unit: %s, decimals: 6}}\n" %
             (g["law"], rows[0][0], rows[-1][0], unit, unit), bits=16, width=16)
    a = check(p)
    bad = [f for f in a["findings"] if f["severity"] == "error"]
    if bad:
        raise Refused(bad[0]["cause"])
    how("C API")
    c = curve(law={"linear": 4, "ln": 5, "log-log": 6}[g["law"]], count=len(rows))
    pts = (Pair * len(rows))(*[Pair(*r) for r in rows])
    c.points = C.cast(pts, C.c_void_p)
    q = L.tl_response_quantity(C.byref(c), span(g["resistance"])[1])
    return {"temperature": q, "illuminance": q}


def thermometers_platinum_ohms(g):
    how("C API")
    return {"resistance": L.tl_response_ohms(C.byref(curve(law=3, ohms=span(g["R0"])[1])), val(g["temperature"]))}


def thermometers_platinum_degc(g):
    if "leads, both together" in g:
        return {"temperature": lead_case(g)}
    how("C API")
    return {"temperature": L.tl_response_quantity(C.byref(curve(law=3, ohms=span(g["R0"])[1])), span(g["resistance"])[1])}


def lead_case(g):
    """With leads only a plan knows the way: ohms seen -> count of a 16-bit converter -> degC, by convert. Count: convert --back of a plain resistor."""
    def body(src, unit, extra=""):
        return "signals:\n  s: {source: {%s}, stages: [partner: {upper: 100 ohm, to: logic}], pin: A0, reading: {unit: %s, decimals: 6}}\n" % (src, unit)
    p = plan(body("resistance: 50 ohm .. 300 ohm", "ohm"), bits=16)
    rows, _ = convert(p, "s", [span(g["resistance"])[1]], "--back")
    n = int(float(rows[0][1]))
    p = plan(body("resistance: %s, law: platinum, over: -50 .. 300 degC, lead: %s" % (tidy(g["R0"]), tidy(g["leads, both together"])), "degC"), bits=16)
    rows, _ = convert(p, "s", [n])
    return float(rows[0][2])


def thermometers_count(g):
    src = "resistance: %s, at: 25 degC, beta: %s, over: -40 .. 125 degC" % (tidy(g["R25"]), g["Beta"])
    leg = {"below": "upper: %s, to: logic", "above": "lower: %s"}[g["sensor leg"]] % tidy(g["partner"])
    t = "signals:\n  s: {source: {%s}, stages: [partner: {%s}], pin: A0, reading: {%s, decimals: 6}}\n"
    rows, _ = convert(plan(t % (src, leg, "unit: degC"), bits=g["bits"], steps=g["step kind"]), "s", [g["count"], g["count"] - 1, g["count"] + 1])
    ohms, _ = convert(plan(t % (src, leg, "of: resistance, unit: ohm"), bits=g["bits"], steps=g["step kind"]), "s", [g["count"]])
    how("derived")
    return {"temperature": float(rows[0][2]), "resistance": float(ohms[0][2]), "counts per kelvin there": 2 / (float(rows[2][2]) - float(rows[1][2]))}


def thermometers_heating(g):
    a = first(size("partner", drawer([g["partner"]]), sensor=g["sensor"].replace(" .. ", ".."), rail=g["supply"], kelvins_per_watt="%g" % (1 / val(g["dissipation"].split(" for")[0]))))
    return {"largest power": fig(a, "heat in sensor"), "largest self-heating": fig(a, "warms itself by")}


# --- dividers ---


def rng(text):
    """'10.5 V .. 14.8 V' -> '10.5V..14.8V' as the command takes it"""
    return tidy(text).replace(" .. ", "..").replace(" V", "V").replace(" ohm", "ohm")


def dividers_analyse(g):
    """Nominal figures by the command (legs given to --upper and --lower count as exact there); corners by the public netlist solver."""
    lo, mid, hi = span(g["source"])
    load = g.get("load from tap to ground (exact)")
    exact_ = dict(upper=g["upper"], lower=g["lower"], source=g["source resistance"], load=load, pin_sees="1G", tolerance=None)
    unit = first(size("divider", from_="1 V", limit="0.999 V", **exact_))
    nom = first(size("divider", from_="%r V" % mid, limit="%r V" % (mid * 0.999), **exact_))

    def net(src):
        n = Net()
        n.rail("src", src)
        a = "src"
        if val(g["source resistance"]):
            n.r("rs", "src", "s", exact(val(g["source resistance"])))
            a = "s"
        n.r("upper", a, "tap", spread(val(g["upper"]), g["tolerance of each leg"]))
        n.r("lower", "tap", "ground", spread(val(g["lower"]), g["tolerance of each leg"]))
        if load:
            n.r("load", "tap", "ground", exact(val(load)))
        return n
    t = net((lo, mid, hi)).volts("tap")
    n = net((lo, mid, hi))
    out = {"ratio": fig(unit, "tap, highest"), "tap at mid source": fig(nom, "tap, highest"), "tap, lowest": t.low, "tap, highest": t.high,
           "within limit, worst case": t.high <= val(g["pin limit"]), "resistance seen by the pin (load included)": fig(nom, "source resistance"),
           "highest current": n.amperes("upper", "tap").high, "highest power, upper": n.watts("upper", "tap").high, "highest power, lower": n.watts("lower", "tap").high}
    n = Net()                                                           # the lower leg has come off
    n.rail("src", exact(hi))
    n.r("upper", "src", "tap", exact(val(g["upper"]) + val(g["source resistance"])))
    n.r("load", "tap", "ground", exact(val(load) if load else 1e12))
    out["tap if the lower leg opens (load stays)"] = n.volts("tap").high
    return out


PRETTY = ("k", 1e3), ("M", 1e6), ("", 1)


def pretty(ohms, k=True):
    if not k or ohms < 1000:
        return "%g Ω" % ohms
    return "%g kΩ" % (ohms / 1e3)


def dividers_choose(g):
    a = size("divider", drawer(g["drawer"], g["tolerance of each leg"]), from_=rng(g["source"]), limit=g["highest tap allowed"], current=g.get("highest current"),
             pin_sees=g["highest resistance seen by the pin (nominal)"], load=g.get("load from tap to ground"), top=50)
    rows = [{p["name"]: pretty(p["value"]) for p in c["parts"]} for c in a["choices"]]
    out = {"possible": a["possible"], "choices in order, the first three": rows[:3], "all choices": rows}
    if rows:
        c = a["choices"][0]
        unit = first(size("divider", from_="1 V", limit="0.999 V", pin_sees="1G", upper=rows[0]["upper"], lower=rows[0]["lower"], load=g.get("load from tap to ground")))
        out.update({"ratio of the first": fig(unit, "tap, highest"), "highest tap of the first": fig(c, "tap, highest"), "highest current of the first": fig(c, "current")})
    return out


def dividers_ratio(g):
    how("derived")

    def error(t):
        n = Net()
        n.rail("src", exact(1.0))
        n.r("upper", "src", "tap", spread(val(g["upper"]), t))
        n.r("lower", "tap", "ground", spread(val(g["lower"]), t))
        b = n.volts("tap")
        return (b.low / b.nominal - 1) * 100, (b.high / b.nominal - 1) * 100
    out = dict(zip(("ratio error, low", "ratio error, high"), error(g["tolerance of each leg"])))
    upper, lower = val(g["upper"]), val(g["lower"])
    a = size("ratio", drawer([g["upper"], g["lower"]]), ratio="%r" % (lower / (upper + lower)), drift=g.get("drift of each leg", "0 ppm/K").replace("±", ""),
             away=g.get("away from the calibration's temperature by at most", "0 K"))
    for end, name in (("low", "lowest"), ("high", "highest")):
        out["after a two-point calibration, " + end] = fig(first(a), "calibrated, " + name)
    return out


def bias_plan(g, source, reading):
    lower = "" if g["tap to ground"] == "none" else ", load: %s" % tidy(g["tap to ground"])
    return plan("supplies: {bias: %s}\nsignals:\n  s: {source: {voltage: %s}, stages: [series: %s, pull: {up: %s, to: bias}%s], pin: A0, reading: {%s}}\n" %
                (g["bias rail"], source, tidy(g["source to tap"]), tidy(g["bias to tap"]), lower, reading), rail="8.192 V", limits="-30 V .. 30 V", bits=13, vih="2 V", vil="1 V")


def dividers_bias(g):
    w = worst(check(bias_plan(g, tidy(g["source"]), "unit: V")))
    one = worst(check(bias_plan(g, "0 V .. 1 V", "unit: V")))
    p = bias_plan(g, tidy(g["source"]), "unit: V, decimals: 6")
    rows, _ = convert(p, "s", [round(val(t) * 1000) for t in g["taps read"]])   # 1 mV a count
    how("derived")
    return {"tap at the source's low end": w["low_v"], "tap at the source's high end": w["high_v"], "b": one["low_v"], "a": one["high_v"] - one["low_v"],
            "source volts of the taps": [float(r[2]) for r in rows]}


# --- partners ---

FAR = {"below": "", "above": ", to: logic"}                             # the sensor's far end


def partners_choose(g):
    lo, hi, v = g["lowest sensor resistance"], g["highest sensor resistance"], g["supply = reference"]
    leg = {"below": "upper", "above": "lower"}[g["sensor leg"]]
    o = dict(sensor="%s..%s" % (tidy(lo).replace(" ", ""), tidy(hi).replace(" ", "")), rail=v, bits=g["bits"], leg=leg, series=None)
    a = size("partner", top=1, tolerance="0%", **o)
    want = num(note(a, "wants " + NUM))
    swing = first(size("partner", drawer(["%g ohm" % want]), **o))
    out = {"partner for largest swing": want, "swing at that partner": fig(swing, "tap, highest") - fig(swing, "tap, lowest")}
    how("derived")
    if "best resolution wanted at" in g:
        b = size("partner", at=g["best resolution wanted at"], top=1, tolerance="0%", **o)
        m = note(b, "[Rr]esolution.*?" + NUM) or note(b, "at " + NUM)
        if m:
            out["partner for that point"] = num(m)
    if "drawer" in g:
        c = first(size("partner", drawer(g["drawer"]), **o))
        used = c["parts"][0]["value"]
        out["best swing from the drawer"], out["swing with it"] = pretty(used), fig(c, "tap, highest") - fig(c, "tap, lowest")
    elif "partner" in g:
        used = val(g["partner"])
        c = first(size("partner", drawer([g["partner"]]), **o))
        out["swing with this partner"] = fig(c, "tap, highest") - fig(c, "tap, lowest")
    else:
        used, c = want, swing
    out.update({"partner used for the figures that follow": used, "current with the sensor at its lowest": fig(c, "current"),
                "current with the sensor shorted": fig(c, "current at 0 Ω"), "largest power in the sensor over its range": fig(c, "heat in sensor")})
    # counts: the plan's way, from ohms to counts
    part = {"upper": "upper: %g ohm, to: logic", "lower": "lower: %g ohm"}[leg] % used
    p = plan("signals:\n  s: {source: {resistance: %s .. %s%s}, stages: [partner: {%s}], pin: A0, reading: {unit: ohm}}\n" % (tidy(lo), tidy(hi), FAR[g["sensor leg"]], part), rail=v, bits=g["bits"])
    rows, _ = convert(p, "s", [val(lo), val(hi)], "--back")
    out["count at the lowest resistance"], out["count at the highest resistance"] = [int(float(r[1])) for r in rows]
    n = note(a, r"tap reads (lower|higher) as the sensor's ohms (rise)")
    out["reads higher with more ohms"] = n.group(1) == "higher"
    return out


def partners_ohms(g):
    leg = {"below": "upper: %s, to: logic", "above": "lower: %s"}[g["sensor leg"]] % tidy(g["partner"])
    p = plan("signals:\n  s: {source: {resistance: 10 ohm .. 1M%s}, stages: [partner: {%s}], pin: A0, reading: {unit: ohm, decimals: 4}}\n" % (FAR[g["sensor leg"]], leg), bits=g["bits"], steps=g["step kind"])
    rows, _ = convert(p, "s", [g["count"]])
    r = rows[0]
    out = {"clipped": r[3].startswith("clipped"), "fault": r[2] == ""}
    if r[2]:
        out["sensor resistance"] = float(r[2])
    return out


# --- pots ---


def pots_feed(g):
    n, rail, lim_ = g["tracks sharing the feed"], g["rail"], g["wanted top"]
    a = size("feed", track=g["track"], tracks=n, rail=rail, limit=lim_, series="E12", tolerance="0%", top=1)
    ideal = num(note(a, NUM + " wanted"))
    used = val(g["feed fitted"]) if "feed fitted" in g else first(a)["parts"][0]["value"]
    nom = first(size("feed", drawer(["%g ohm" % used]), track=g["track"], tracks=n, rail=rail, limit="%r V" % (val(rail) * 0.999)))
    d = drawer(["%g ohm" % used], g["feed tolerance"])
    tol = dict(track="%s %s" % (tidy(g["track"]), g["track tolerance"]), tracks=n, rail=rail)
    wide = first(size("feed", d, limit="%r V" % (val(rail) * 0.999), **tol))
    return {"ideal feed": ideal, "feed used": used, "top nominal": fig(nom, "top, highest"), "top lowest": fig(wide, "top, lowest"), "top highest": fig(wide, "top, highest"),
            "stays at or below the wanted top in the worst case": size("feed", d, limit=lim_, **tol)["possible"],
            "highest resistance at a wiper (over travel)": fig(nom, "source resistance"), "current from the rail": fig(nom, "current")}


def pot_plan(g, load, over, **k):
    n = g.get("tracks sharing the feed", 1)
    feed = val(g.get("feed", "0 Ω").replace(" (exact)", ""))
    shared = "shared:\n  top: {from: up, series: %g ohm}\n" % feed if feed else ""
    top = "top" if feed else "up"
    end = g.get("end resistance, each end", "0 Ω")
    src = "{potentiometer: %s, top: %s, end: %s, over: %s}" % (tidy(g["track"]), top, tidy(end), over)
    stages = "" if load == "none" else ", stages: [load: %s]" % tidy(load).replace(" (exact)", "")
    body = "supplies: {up: %s}\n%ssignals:\n" % (g["rail"], shared)
    for i in range(n):
        body += "  %s: {source: %s%s, pin: A%d, reading: {of: %s, unit: V, decimals: 6}}\n" % ("s" if i == 0 else "t%d" % i, src if i == 0 else src.replace(over, "0 % .. 100 %"),
                                                                                     stages if i == 0 else "", i, "pin")
    return plan(body, rail=g.get("reference", g["rail"]), limits="-0.3 V .. 30 V", **k)


def pots_wiper(g):
    over = "%.10g %% .. %.10g %%" % (g["position"] * 100, g["position"] * 100)

    def pin(load):
        a = worst(check(pot_plan(g, load, over, bits=g["bits"])))
        return a["low_v"], a["source_ohms"]
    loaded, _ = pin(g["load on the wiper"])
    free, ohms = pin("none")
    p = pot_plan(g, g["load on the wiper"], over, bits=g["bits"])
    rows, _ = convert(p, "s", ["%.9g" % loaded], "--back")
    how("derived")
    return {"wiper": loaded, "wiper without load": free, "count": int(float(rows[0][1])), "error from the load": (loaded - free) / val(g["rail"]) * 100, "resistance at the wiper": ohms}


def pots_worst(g):
    missing("loading error of a potentiometer, and where it is largest, is told nowhere")


def pots_corners(g):
    w = worst(check(pot_plan(g, g["load on the wiper"], "%g %% .. %g %%" % (g["position"] * 100, g["position"] * 100))))
    return {"highest wiper": w["high_v"], "lowest wiper": w["low_v"]}


def pots_follower(g):
    lo, mid, hi = span(g["wiper range"])
    top, bottom = tidy(g["output stays below the rail by"]), tidy(g["output stays above ground by"])
    div = "" if g["divider behind it"] == "none" else ", divider: {upper: %s, lower: %s}" % tuple(tidy(x) for x in g["divider behind it"])

    p = plan("supplies: {amp: %s, wiper: %r V}\nsignals:\n  s: {source: {potentiometer: 10k, top: wiper}, stages: [follower: {supply: amp, output: %s .. rail - %s}%s], pin: A0}\n" %
             (g["amplifier rail"], hi, bottom, top, div), rail=g["reference"], bits=g["bits"], limits="-0.3 V .. 30 V")
    a = check(p)
    w = worst(a)
    s = size("follower", from_=rng(g["wiper range"]), source="1M", supply=g["amplifier rail"], out_high=top, out_low=bottom, limit="100 V", reference=g["reference"], bits=g["bits"],
             sampling="10 pF", switch="1k", acquisition="1 us")
    c = [x for x in s["choices"] + [m["choice"] for m in s["rejected"]] if (x["way"] or "").startswith("follower")][0]
    head = any(f["slug"] == "follower-headroom" and "high" in (f["cause"] + str(f["figure"])) for f in a["findings"]) or fig(c, "output, highest") > lim(c, "output, highest")
    # what the pin has at most while the amplifier's rail is at its lowest
    low = plan("supplies: {amp: %r V, wiper: %r V}\nsignals:\n  s: {source: {potentiometer: 10k, top: wiper}, stages: [follower: {supply: amp, output: %s .. rail - %s}%s], pin: A0}\n" %
               (span(g["amplifier rail"])[0], hi, bottom, top, div), rail=g["reference"], bits=g["bits"], limits="-0.3 V .. 30 V")
    w = worst(check(low))
    return {"share of travel that reads true": fig(c, "follows of the range"), "highest output, rail at its lowest": min(fig(c, "output, highest"), lim(c, "output, highest")), "lowest output": fig(c, "output stays above"),
            "out of headroom at the top": head, "pin, highest": w["high_v"], "pin, lowest": w["low_v"]}


# --- pulls ---


def pulls_window(g):
    pin_side = g["pull connects at"].startswith("pin")
    closed = val(g["switch resistance"]) + (val(g["guard"]) if pin_side else 0)
    rail = span(g["rail"])
    o = dict(rail=g["rail"], to=g["pull"], leakage=g["total leakage, worst sign"], margin=g["margin wanted"], closed="%g ohm" % closed,
             current=g.get("highest current while closed", "10 A"), wetting=g.get("wetting current wanted"))
    if not pin_side and val(g["guard"]) > 0:
        o["guard"] = g["guard"]
    # thresholds follow the rail: only 0.7 and 0.3 do that in the command; others as volts at the corner where they count
    share_h, share_l = float(g["VIH / rail"]), float(g["VIL / rail"])
    out = {}
    for key in [k for k in PULL_TRIED if k in WANTED.get("pulls_window", PULL_TRIED)]:
        r = key.split("with ")[1]
        oo = dict(o, vih=None if share_h == 0.7 else "%r V" % (share_h * rail[0]), vil=None if share_l == 0.3 else "%r V" % (share_l * rail[0]))
        a = size("pull", drawer([r]), **oo)
        c = first(a)
        i, m = fig(c, "idle level"), val(g["margin wanted"])
        il = lim(c, "idle level")
        closed_safe = fig(c, "closed level") <= lim(c, "closed level") if g["pull"] == "up" else fig(c, "closed level") >= lim(c, "closed level")
        for want, name in (("largest pull from leakage", "largest for the leakage"), ("smallest pull from the current", "smallest for the current"),
                           ("largest pull from wetting", "largest for the wetting current")):
            out[want] = exactly(a, name)
        out[key] = {"idle level, worst": i, "idle level safe": i >= il if g["pull"] == "up" else i <= il, "closed level, worst": fig(c, "closed level"), "closed level safe": closed_safe}
    return out


PULL_TRIED = ["with 10 kΩ", "with 1 MΩ", "with 470 kΩ", "with 100 kΩ", "with 33 kΩ", "with 47 kΩ", "with 820 Ω"]
WANTED = {}


def pulls_edge(g):
    v, up = val(g["rail"]), g["pulls"] == "up"
    start, end = g["from / rail"] * v, g["to / rail"] * v
    a = size("pull", drawer([g["pull"]]), rail=g["rail"], to=g["pulls"], leakage="0A", capacitance=g["capacitance, cable and filter"], saturation="%r V" % (start if up else v - start),
             vih="%r V" % end if up else None, vil="%r V" % end if not up else None, current="1 A")
    return {"time": fig(first(a), "rises back in" if up else "falls back in")}


def pulls_internal(g):
    """A plan: the chip's own pull (and a part beside it), a leaking contact; its idle level by check."""
    ext = "" if g["external in parallel"] == "none" else ", pull: {up: %s, to: logic}" % tidy(g["external in parallel"])
    p = plan("signals:\n  s: {source: {contact: ground, leakage: %s}, stages: [pull: {up: internal}%s], pin: A0}\n" % (g["leakage"], ext), rail=g["rail"],
             more=", internal: {up: %s}" % tidy(g["internal pull-up"]))
    a = check(p)
    w = worst(a)
    return {"effective lowest": w["pulls"]["low_ohms"], "effective highest": w["pulls"]["high_ohms"], "idle, worst": w["low_v"], "enough": not any(f["severity"] == "error" for f in a["findings"])}


def pulls_guard(g):
    a = size("guard", drawer([g["guard"]]), rail=g["rail"], pin_current=g["pin limit"])
    return {"current": fig(first(a), "pin current"), "within the pin's limit": a["possible"], "smallest guard": num(note(a, NUM + " wanted"))}


def pulls_bus(g):
    o = dict(mode=g["mode"], rail=g["rail"], capacitance=g["bus capacitance"])
    fitted = g.get("fitted, in parallel")
    out = {}
    a = size("bus-pull", drawer(fitted, g["resistor tolerance"]) if fitted and len(fitted) == 1 else None, **dict(o, tolerance=None if fitted else g["resistor tolerance"].replace("±", "")))
    t = val(g["resistor tolerance"].replace("±", "")) / 100
    out["smallest"], out["largest nominal"] = exactly(a, "smallest pull"), exactly(a, "largest pull") / (1 + t)
    out["possible"] = a["possible"]
    if fitted:
        p = plan("buses:\n  b:\n    pins: {scl: D0, sda: D1}\n    mode: %s\n    stages: [%s, cable: %s]\nsignals:\n  s: {source: {voltage: 0 V .. 1 V}, pin: A0}\n" %
                 (g["mode"], ", ".join("pull: {up: %s %s, to: logic}" % (tidy(x), g["resistor tolerance"]) for x in fitted), g["bus capacitance"]), rail=g["rail"])
        write("b.board.yaml", open(os.path.join(TMP, "b.board.yaml")).read().replace("  D0 .. D19: {}", "  D0 .. D1: {can: [digital, i2c]}\n  D2 .. D19: {}"))
        b = check(p)
        out["effective"] = b["buses"][0]["pulls"]["nominal_ohms"]
        f = [x for x in b["findings"] if x["slug"] in ("bus-pull", "weak-driver")]
        text = " ".join(x["cause"] + " " + str(x["figure"]) for x in f)
        out["verdict"] = "too small" if re.search("too (small|strong)|at least|sink|takes", text) else "too large" if f else "good"
        out["possible"] = True if a["possible"] else size("bus-pull", **dict(o, tolerance=g["resistor tolerance"].replace("±", "")))["possible"]
        out["finding"] = text
    return out


# --- clamps ---


def clamps_injection(g):
    unpowered = g["rail"] == "0 V"
    o = dict(fault=g["fault voltage"], rail="3.3 V" if unpowered else g["rail"], clamp=g["pin stands above its rail"], limit=g["injection limit"], unpowered=unpowered)
    a = size("injection", drawer([g["series resistor (exact)"]]), **o)
    c = first(a)
    out = {"current": max(fig(c, "injected, above"), fig(c, "injected, below")), "within the limit": a["possible"], "power in the resistor": fig(c, "power then")}
    out["smallest resistor"] = exactly(a, "smallest series resistor")
    return out


def clamps_sum(g):
    i = val(g["each"])
    a = size("injection", drawer(["10k"]), fault="%r V" % (3.6 + i * 1e4), rail="3.3 V", limit="%r A" % (i * 1.0001), pins=g["injections"], board_draws=g["board draws at least"])
    c = first(a)
    return {"sum": fig(c, "into the rail, all"), "can lift the rail": not a["possible"]}


# --- shifts ---

WAYS = {"none needed": "direct", "open drain and pull": "open drain with a pull", "series resistor into the clamp": "series resistor", "divider": "divider", "diode and pull": "diode and pull-up",
        "transistor to ground, inverting": "inverting transistor", "N-channel transistor a line": "n-channel transistor", "buffer": "buffer"}


def way(text):
    for k, v in WAYS.items():
        if text and text.startswith(k):
            return v
    return text


def shifts_choose(g):
    f, t = g["from"], g["to"]
    v, high = val(f["supply"]), val(f["VOH, highest"])
    supply = f["supply"] if high < v else "%r V..%r V" % (2 * v - high, high)
    npn, nch = g.get("npn transistor"), g.get("n-channel transistor")
    a = size("shift", drawer(g["resistors at hand, ±1 %"], "1 %"), from_=supply, to=rng(t["supply"]), voh=f["VOH, lowest"], vol=f["VOL, highest"], vih=t["VIH"], vil=t["VIL"],
             limit=t["pin stands"], injection=None if t["injection allowed"].startswith("0 ") else t["injection allowed"], drives=f["sinks"],
             rate="%.0f Hz" % (float(g["bit rate"].split()[0]) * 1000), capacitance=g["line capacitance"], diode=g["diode"], threshold=nch["VGS(th), highest"] if nch else None,
             body_diode=nch["body diode"] if nch else None, vih_back=g.get("VIH of the first side, when spoken to"), vol_back=g.get("VOL of the second side, when it speaks"),
             leakage=t["leakage"],
             open_drain=f["output"] == "open drain", both_ways=g["direction"] == "both ways", may_invert=g["inversion"] == "allowed", top=20)
    out = {"raw": a, "ruled out": [way(m["choice"]["way"] or m["why"].split(":")[0]) for m in a["rejected"]], "why": [m["why"] for m in a["rejected"]]}
    if a["choices"]:
        c = a["choices"][0]
        out["first that works"] = way(c["way"])
        if out["first that works"] == "divider":
            out["divider"] = {p["name"]: pretty(p["value"], False) for p in c["parts"]}
    out["ways"] = [c["way"] for c in a["choices"]]
    out["smallest series resistor"] = exactly(a, "smallest series resistor into the clamp")
    for c in a["choices"] + [m["choice"] for m in a["rejected"]]:
        if c["way"] == "none needed":
            out["direct margins"] = {"high": fig(c, "high margin"), "low": fig(c, "low margin")}
    return out


# --- muxes ---

MUX = "tinyladder: mux 1\ntitle: M\ninputs: %d\nenable: %s\non-resistance: %s\nleakage: ±%s\ncapacitance: %s\nsignals: 0 V .. rail\n"


def mux_size(g, source, acq="1 s", **k):
    o = dict(on=g.get("on-resistance, highest", g.get("on-resistance")), source=source, switch=g.get("converter switch"), sampling=(g.get("sampling capacitor") or "").split(",")[0] or None,
             capacitance=g.get("common line"), bits=g.get("bits"), acquisition=acq, series=None, top=10)
    o.update(k)
    return size("mux", **o)


def muxes_select(g):
    out = []
    for n in g["inputs in use"]:
        a = size("mux", on="180 ohm", source="10k", switch="1k", sampling="8 pF", acquisition="1 ms", inputs=n)
        m = note(a, r"(\d+|[Nn]o) select line")
        out.append(int(m.group(1)) if m and m.group(1).isdigit() else 0 if m else None)
    return {"select bits": out}


def muxes_dwell(g):
    a = mux_size(g, g["source resistance"])
    c = [x for x in a["choices"] if x["way"] == "acquisition alone"][0]
    return {"acquisition by the safe form": num(note(a, "safe closed form asks for an acquisition of " + NUM)), "acquisition, exactly": fig(c, "acquisition")}


def mux_plan(g, acq, wait, sweep=None, s="0 V .. 3.3 V", t="0 V .. 3.3 V"):
    write("m.mux.yaml", MUX % (2, "none", tidy(g["on-resistance, highest"]), "0 nA", g["common line"]))
    return plan("signals:\n  s: {source: {voltage: %s, resistance: %s}, pin: m.0, acquisition: %s}\n  t: {source: {voltage: %s, resistance: %s}, pin: m.1}\n"
                "muxes:\n  m: {part: m.mux.yaml, supply: logic, select: [D0], common: A0%s}\n%s" %
                (s, tidy(g["source resistance"]), acq, t, tidy(g["source resistance"]), "" if wait is None else ", dwell: " + wait, sweep or ""),
                bits=g["bits"], cs=g["sampling capacitor"].split(",")[0], rs=tidy(g["converter switch"]), starts=", starts-from: last", acq=acq, conversion=g.get("conversion", "0 us"))


def muxes_two_phase(g):
    if g["worst neighbour"].startswith("a full"):
        p = mux_plan(g, g["acquisition"], g["wait"])
    else:
        p = mux_plan(g, g["acquisition"], g["wait"], "sweeps:\n  w: {signals: [t, s]}\n", "0 V .. 0 V", "%r V .. %r V" % ((val(g["worst neighbour"].split(" of")[0]) / 100 * 3.3,) * 2))
    a = check(p)
    left = worst(a)["settling_counts"]
    bad = any(f["slug"] in ("slow-acquisition", "source-resistance", "dwell-short", "discard-needed") for f in a["findings"])
    return {"left, counts": left, "below half an LSB": not bad}


def muxes_wait(g):
    a = mux_size(g, g["source resistance"], g["acquisition"])
    c = [x for x in a["choices"] if "throw" not in (x["way"] or "")]
    return {"possible": bool(c), "shortest wait": fig(c[0], "dwell") if c else None, "raw": a["rejected"]}


def muxes_leak(g):
    a = size("mux", on=g["on-resistance"], source=g["source resistance"], switch="1k", sampling="1 pF", acquisition="1 s", bits=g["bits"], inputs=g["inputs"], off_leakage=g["off leakage of each"],
             pin_leakage=g["leakage of the converter's pin"], reference=g["reference"])
    c = a["choices"][0]
    n = fig(c, "of it in counts")
    return {"error": fig(c, "leakage costs"), "error in counts": n, "below half an LSB": n < 0.5}


def muxes_scan(g):
    each = [exactly(mux_size(g, s), "acquisition, safe closed form") for s in g["source resistances"]]
    o = dict(conversion=g["conversion"], offered=",".join("%.9g us" % (x * 1e6 * 1.0000001) for x in sorted(set(each))), used=len(each), inputs=len(each))
    worst_ = max(g["source resistances"], key=val)
    own, one = [fig(mux_size(g, s, **o)["choices"][0], "scans a second") for s in (",".join(tidy(x) for x in g["source resistances"]), worst_)]
    return {"acquisition of each": each, "passes a second, each its own": own, "passes a second, one for all": one}


def muxes_discard(g):
    out = {}
    for n, key in ((1, "left after one, counts"), (2, "left after two, counts")):
        a = check(mux_plan(g, g["acquisition"], "0 us", "sweeps:\n  w: {signals: [t, s], discard: %d}\n" % (n - 1)))
        out[key] = worst(a)["settling_counts"]
    return out


def muxes_tree(g):
    n = int(g["switches"].split()[0])
    write("m.mux.yaml", MUX % (n, "none", tidy(g["on-resistance, highest"]), g["off leakage of each input"], "1 pF"))
    p = plan("supplies: {x: 1.65 V}\nsignals:\n  s: {source: {voltage: 1.65 V .. 1.65 V, resistance: %s}, pin: far.0}\nmuxes:\n"
             "  root: {part: m.mux.yaml, supply: logic, select: [D0, D1, D2], common: A0, tied: {1 .. 7: ground}}\n"
             "  far: {part: m.mux.yaml, supply: logic, select: [D3, D4, D5], common: root.0, tied: {1 .. 7: ground}}\n" % tidy(g["source resistance"]), leakage="±" + g["leakage of the converter's pin"])
    w = worst(check(p))
    how("derived")
    s = size("mux", on=g["on-resistance, highest"], source=g["source resistance"], switch="1k", sampling="1 pF", inputs=n, used=g["inputs"], off_leakage=g["off leakage of each input"],
             pin_leakage=g["leakage of the converter's pin"], acquisition="1 s", reference="3.3 V")
    return {"switches needed": exactly(s, "parts"), "inputs left over to tie": int(note(s, r"the (\d+) inputs that are left").group(1)),
            "on-resistance in the path": int(note(s, r"goes through (\d+) switches").group(1)) * val(g["on-resistance, highest"]), "by size": fig(s["choices"][0], "leakage costs"),
            "leakage error, both levels, root switch counted with all 8 inputs": (w["high_v"] - w["low_v"]) / 2}


def muxes_check(g):
    if "enable" in g:
        write("m.mux.yaml", MUX % (2, "low", "180 ohm", "0 nA", "30 pF"))
        p = plan("signals:\n  s: {source: {voltage: 0 V .. 3 V}, pin: m.0}\nmuxes:\n  m: {part: m.mux.yaml, supply: logic, select: [D0], enable: logic, common: A0, tied: {1: ground}}\n")
    elif "signal" in g:
        write("m.mux.yaml", MUX % (2, "none", "180 ohm", "0 nA", "30 pF"))
        p = plan("signals:\n  s: {source: {voltage: %s}, pin: m.0}\nmuxes:\n  m: {part: m.mux.yaml, supply: logic, select: [D0], common: A0, tied: {1: ground}}\n" % tidy(g["signal"]), rail=g["switch supply"])
    else:
        write("m.mux.yaml", MUX % (8, "none", "180 ohm", "0 nA", "30 pF"))
        p = plan("signals:\n%smuxes:\n  m: {part: m.mux.yaml, supply: logic, select: [D0, D1, D2], common: A0}\nsweeps:\n  w: {signals: [%s]}\n" %
                 ("".join("  s-%d: {source: {voltage: 0 V .. 3 V}, pin: m.%d}\n" % (i, i) for i in g["connected"]), ", ".join("s-%d" % i for i in g["in the pass"])))
    try:
        f = check(p)["findings"]
    except Refused as e:                                                # unreadable: told on stderr only, without JSON
        return {"severity": "error", "finding": e.text}
    return {"severity": f[0]["severity"] if f else "none", "finding": " ".join([f[0]["cause"], str(f[0]["figure"])]) if f else ""}


# --- ladders ---


def ladder_plan(g, first_ohms=None, apart=None):
    legs = g.get("legs") or g["chain, from the pin"]
    names = ["b%d: %s%s" % (i + 1, tidy(first_ohms or r) if i == 0 else tidy(r), "" if r.startswith("0 ") or (first_ohms and i == 0) else " " + g.get("tolerance", "±0 %")) for i, r in enumerate(legs)]
    return plan("signals:\n  s: {source: {%s: [%s]}, stages: [pull: {up: %s %s, to: logic}], pin: A0%s}\n" %
                (g["circuit"], ", ".join(names), tidy(g["pull"]), g.get("tolerance", "±0 %"), ", reading: {apart: %s}" % apart if apart else ""),
                bits=g["bits"], leakage="±" + g.get("leakage at the pin, either sign", "0 A"), rail=g.get("supply", "3.3 V"), acq="1 ms", limits="-30 V .. 30 V")


def state_codes(p, k):
    how("C API")
    report = L.tl_report_new()
    pl = L.tl_plan_load(p.encode(), report)
    if not pl:
        raise Refused("plan")
    c = L.tl_circuit_new(pl)
    out = []
    for state in list(range(1, k + 1)) + [0]:
        i, mid = Interval(), C.c_double()
        if L.tl_plan_state_codes(c, 0, state, C.byref(i), C.byref(mid)):
            raise Refused("fault")
        out.append((i.low, i.high, mid.value))
    return out


def ladders_chain(g):
    k = len(g["chain, from the pin"])
    p = ladder_plan(g, apart=g["guard band wanted"])
    rows = state_codes(p, k)
    bad = [f for f in check(p)["findings"] if f["slug"] == "buttons-close"]
    how("derived")
    gaps = [b[0] - a[1] for a, b in zip(rows, rows[1:])]
    return {"nominal counts, buttons in order, then none": [round(r[2]) for r in rows], "worst-case intervals": [[r[0], r[1]] for r in rows], "smallest gap between intervals": min(gaps),
            "separable with the guard band": not bad}


def press(p, *buttons):
    s = write("s.scene.yaml", "tinyladder: scene 1\nlength: 10 s\npresses: {%s}\n" % ", ".join("s.b%d: [1 s for 5 s]" % b for b in buttons))
    d = run("read", p, "--scene", s, "--at", "2s", "--json")
    if d.returncode in (2, 3):
        raise Refused(d.stderr)
    r = json.loads(d.stdout)["readings"][0]
    return r["count"], r["button"]


def ladders_two(g):
    exact_ = dict(g)
    exact_.pop("tolerance", None)
    legs = g.get("legs") or g["chain, from the pin"]
    pairs = [tuple(int(x) for x in re.findall(r"\d+", g["pressed"]))] if "pressed" in g else [(i + 1, j + 1) for i in range(len(legs)) for j in range(i + 1, len(legs))]
    found = [f["cause"] for f in check(ladder_plan(g))["findings"] if f["slug"] == "two-as-third"]
    out = {}
    p = ladder_plan(exact_)
    for a, b in pairs:
        n, name = press(p, a, b)
        third = any(re.search(r"\bb%d and b%d\b" % (a, b), c) for c in found) or (g["circuit"] == "chain" and name not in ("b%d" % a, "b%d" % b, "between two"))
        out["%d+%d" % (a, b)] = {"count": n, "is a third": third}
    return {"pairs": out, "found": found}


def ladders_decode(g):
    p = ladder_plan(g)
    if "count" in g:
        n = g["count"]
    else:
        n, _ = press(ladder_plan(dict(g, tolerance="±0 %"), first_ohms="470 ohm"), 1)
        p = ladder_plan(g)
    rows, _ = convert(p, "s", [n])
    t = rows[0][2]
    return {"count": n, "decodes as": "between" if t.startswith("between") else "button " + t[1:] if t.startswith("b") else t}


# --- loads ---


def loads_driver(g):
    t, high = g["transistor"], "%s..3.366V" % g["VOH, lowest"].split(" at")[0].replace(" ", "")
    out = {}
    if t["kind"] == "npn":
        d = drawer([g["base resistor fitted"].split(" ±")[0]], g["base resistor fitted"].split(" ±")[1]) if "base resistor fitted" in g else None
        a = size("driver", d, supply=g["load supply"], load=rng(g["coil"]), coil="100 mH", high=high, pin_current=g["pin limit"], gain=t["forced gain"], saturation=t["saturation"], base=t["VBE, highest"], heat="10 W")
        c = [x for x in a["choices"] + [m["choice"] for m in a["rejected"]] if x["way"] == "bipolar transistor" and x["figures"]]
        if c:
            c = c[0]
            need = lim(c, "base current, least")
            out = {"highest load current": fig(c, "load current"), "base current needed": need, "flyback diode carries": fig(c, "diode carries"), "within the pin's drive": need <= val(g["VOH, lowest"].split(" at ")[1]),
                   "saturates with the one fitted": fig(c, "base current, least") >= need}
        out["largest base resistor"] = exactly(a, "largest base resistor")
        out["raw"] = a
        return out
    if "on-resistance when on" in t:
        a = size("driver", supply="12 V", load="%r ohm" % (12 / val(g["load current, highest"])), coil="100 mH", high=high, pin_current=g["pin limit"], on=tidy(t["on-resistance when on"]), heat="10 W")
        c = [x for x in a["choices"] if "N-channel" in x["way"]][0]
        out = {"flyback diode carries": fig(c, "diode carries"), "power in the transistor": fig(c, "transistor power"), "turns on from this rail": a["possible"]}
    return out


def loads_loop(g):
    ex = g["load"].split(" (")[0]
    o = dict(limit=g["pin limit"], compliance=g["transmitter needs"], wire=tidy(g["wire, both ways"]), most=g["highest current to be read"], supply=g["loop supply"])
    a = size("loop", drawer([ex]), **o)
    pin = first(size("loop", drawer([ex]), **dict(o, supply=None, compliance=None)))
    b = size("loop", top=1, **o)
    c = pin if not a["choices"] else a["choices"][0]
    out = {"largest load for the pin": exactly(b, "largest load for the pin"), "largest load for the loop": exactly(b, "largest load for the loop"), "within the pin's range": fig(pin, "at the most") <= lim(pin, "at the most"), "volts at 4 mA": fig(pin, "at 4 mA"),
           "volts at 20 mA": fig(pin, "at 20 mA"), "loop can drive it": a["possible"], "power in the load": fig(pin, "power")}
    return out


def loads_loop_read(g):
    p = plan("signals:\n  s: {source: {current: 0 mA .. 25 mA}, stages: [load: %s], pin: A0, reading: {unit: mA, decimals: 6, faults: {open: below 3.6 mA, short: above 21 mA}}}\n" %
             tidy(g["load"]).split(" (")[0], bits=g["bits"], steps=g["step kind"], rail=g["reference"], limits="-0.3 V .. 10 V")
    rows, done = convert(p, "s", g["counts"])
    p2 = plan("signals:\n  s: {source: {current: 0 mA .. 25 mA}, stages: [load: %s], pin: A0, reading: {unit: mA, decimals: 6}}\n" % tidy(g["load"]).split(" (")[0], bits=g["bits"], steps=g["step kind"],
              rail=g["reference"], limits="-0.3 V .. 10 V")
    free, _ = convert(p2, "s", g["counts"])
    return {"current": [float(r[2]) / 1000 for r in free], "state": ["fault below" if "open" in r[-1] or r[2].startswith("open") else "fault above" if "short" in r[-1] or r[2].startswith("short") else "ok" for r in rows], "rows": rows}


# --- trims ---


def trim_plan(extra="", meter="{accuracy: 0 %}", source="0 V .. 4 V", stages="", **k):
    o = dict(ref="4.096 V", rail="5 V")
    o.update(k)
    return plan("meters: {m: %s}\nsignals:\n  s: {source: {voltage: %s}, %spin: A0, reading: {unit: V, decimals: 6%s}}\n" % (meter, source, stages, extra), **o)


def trim_points(g):
    return ["%s=%s" % (p.split(" counts")[0], p.split(": ")[1].replace(" ", "")) for p in g["points"]]


def trim(p, words):
    d = run("trim", p, "s", *words, "--json")
    if d.returncode in (2, 3) or not d.stdout.strip():
        raise Refused(d.stderr)
    return json.loads(d.stdout)


def trims_two_points(g):
    a = trim(trim_plan(), trim_points(g))
    out = {"gain": a["gain"] * 1e-3, "offset": a["offset_v"]}             # 1 mV a count
    rows, _ = convert(trim_plan(", trim: %s" % a["trim"]), "s", [2048])
    out["2048 counts"] = float(rows[0][2])
    return out


def trims_squares(g):
    try:
        a = trim(trim_plan(), trim_points(g))
    except Refused as e:
        m = re.search(r"the pair (\d+)=", e.text)
        if not m:
            raise
        how("missing")                                                  # how far it is from the others is not told
        return {"its point": m.group(1) + " counts"}
    res = [p["residual_v"] for p in a["pairs"]]
    return {"gain": a["gain"] * 1e-3, "offset": a["offset_v"], "residuals": res, "largest residual": max(res, key=abs)}


def trims_near(g):
    p = trim_plan(meter="{accuracy: 0.5 %, digits: 2, digit: 1 mV}")
    d = run("trim", p, "s", *trim_points(g))
    return {"extrapolated": "extrapolated" in d.stdout, "gain uncertainty from the meter's digits alone": 100 * trim(p, trim_points(g))["gain_unsure_by_digits"]}


def trims_meter(g):
    m = re.match(r"±\(([0-9.]+) % of reading \+ (\d+) digits(?: \+ ([0-9.]+) % of range)?\)", g["accuracy"])
    meter = "{accuracy: %s %%, digits: %s, digit: %s%s}" % (m.group(1), m.group(2), g["digit"], ", of-range: %s %%, range: %s" % (m.group(3), g["range"]) if m.group(3) else "")
    a = trim(trim_plan(meter=meter, source="0 V .. 20 V", stages="stages: [divider: {upper: 40k, lower: 10k}], "), ["1=0V", "2520=%s" % g["reading"].replace(" ", "")])
    return {"uncertainty": a["pairs"][1]["meter_limit_v"]}


def trims_verdict(g):
    """A plan whose parts have just these limits: the reference's tolerance, the upper leg's, an offset error, the meter's digits. A converter of
    16 bits, so that its steps hardly count. Two pairs are wanted: the second is without deviation."""
    lim_ = {k: val(v) for k, v in g["limits (±)"].items()}
    if set(lim_) - {"reference", "resistors", "converter", "meter"}:
        return trims_by_error(g, lim_)
    says, shows, bits = val(g["converter says"]), val(g["meter shows"]), 16
    ref, ru, rl = 4.096, 30000.0, 10000.0
    und = (ru + rl) / rl
    lsb = ref / (1 << bits) * und
    n = round(says / lsb)
    at = n * lsb
    tol_ref = lim_.get("reference", 0) / at * 100
    tol_ru = lim_.get("resistors", 0) / (at / und * ru / rl) * 100
    off = lim_.get("converter", 0) / lsb
    write("b2", "")
    p = trim_plan(meter="{accuracy: 0 %%, digits: 1, digit: %.9g mV}" % (lim_.get("meter", 0) * 1e3), source="0 V .. 16 V",
                  stages="stages: [divider: {upper: 30k ±%.9g %%, lower: 10k}], " % tol_ru, bits=bits, ref="4.096 V ±%.9g %%" % tol_ref)
    b = os.path.join(TMP, "b.board.yaml")
    text = open(b).read().rstrip("\n") + "\n    errors: {offset: ±%.9g counts}\n" % off
    open(b, "w").write(text)
    a = trim(p, ["%d=%.9gV" % (n, shows + (at - says)), "%d=%.9gV" % (n // 2, n // 2 * lsb)])
    v = a["verdict"]
    out = {"difference": abs(v["deviation_v"]), "expanded, coverage 2": v["explained_v"], "straight sum of limits": v["straight_sum_v"], "agrees": v["explained"],
           "within the straight sum": abs(v["deviation_v"]) <= v["straight_sum_v"], "combined standard uncertainty": v["explained_v"] / 2,
           "shares of variance": {k: 100 * (v["share_" + k] if k != "converter" else sum(v["share_" + x] for x in ("offset", "gain", "nonlinearity", "noise", "quantisation")))
                                  for k in ("reference", "resistors", "converter", "meter")}}
    how("derived")
    return out


def trims_by_error(g, lim_):
    """A converter alone, each of its errors by itself."""
    sd = {k: val(v) for k, v in g.get("standard deviations", {}).items()}
    lsb = sd["quantisation"] * 12 ** 0.5
    says, shows = val(g["converter says"]), val(g["meter shows"])
    p = trim_plan(meter="{accuracy: 0 %%, digits: 1, digit: %.9g mV}" % (lim_["meter"] * 1e3), bits=12, ref="%.9g V" % (lsb * 4096))
    b = os.path.join(TMP, "b.board.yaml")
    text = open(b).read().rstrip("\n") + "\n    errors: {offset: ±%.9g counts, gain: ±%.9g counts, nonlinearity: ±%.9g counts, noise: %.9g counts}\n" % tuple(
        x / lsb for x in (lim_["converter offset"], lim_["converter gain"], lim_["nonlinearity"], sd["noise"]))
    open(b, "w").write(text)
    v = trim(p, ["%.9g=%.9gV" % (says / lsb, shows), "1=%.9gV" % lsb])["verdict"]
    how("derived")
    names = {"converter offset": "offset", "converter gain": "gain"}
    return {"difference": abs(v["deviation_v"]), "expanded, coverage 2": v["explained_v"], "combined standard uncertainty": v["explained_v"] / 2, "agrees": v["explained"],
            "straight sum of limits": v["straight_sum_v"], "within the straight sum": abs(v["deviation_v"]) <= v["straight_sum_v"],
            "shares of variance": {k: 100 * v["share_" + names.get(k, k)] for k in g_shares(g)}}


def g_shares(g):
    return list(g["limits (±)"]) + list(g.get("standard deviations", {}))


def noise_left(noise, how_averaged):
    p = plan("signals:\n  s: {source: {voltage: 0 V .. 3 V}, pin: A0, reading: {unit: V, %s}}\n" % how_averaged)
    b = os.path.join(TMP, "b.board.yaml")
    text = open(b).read().rstrip("\n") + "\n    errors: {noise: %.9g counts}\n" % noise
    open(b, "w").write(text)
    return worst(check(p))


def trims_averages(g):
    noise, weight = val(g["noise of one sample"].split()[0]), g["exponential weight"]
    out = {"mean of %d" % g["mean of"]: noise_left(noise, "mean: %d" % g["mean of"])["noise_counts"]}
    a = noise_left(noise, "exponential: %d" % round(1 / weight))
    out.update({"exponential": a["noise_counts"], "exponential, samples until a step is within 1 %": a["step_samples"]})
    return out


def trims_silent(g):
    noise = val(g["noise of one sample"].split()[0])
    how("derived")
    left = noise_left(noise, "mean: %d" % g["mean of"])["noise_counts"]
    return {"extra bits gained": int(math.log2(noise / left) + 1e-9) if noise >= 0.5 else 0}


# --- acquisition ---


def longest_ohms(bits, cs, rs, t):
    how("C API")

    class Conv(C.Structure):
        _fields_ = [(x, C.c_double) for x in ("reference", "bits", "cs", "rs", "t", "cpin")]
    c = Conv(NAN, bits, cs, rs, t, 0)
    L.tl_converter_longest_ohms.restype = C.c_double
    return L.tl_converter_longest_ohms(C.byref(c))


def acquisition_time(g):
    k = dict(bits=g["bits"], cs=g["sampling capacitor"], rs=tidy(g["converter switch"]), acq=", ".join(g["times offered"]), starts=", starts-from: last")
    if g["step"] == "full scale":
        s, t, sw = "0 V .. 3.3 V", "0 V .. 3.3 V", ""
    else:
        x = val(g["step"].split(" of")[0]) / 100 * 3.3
        s, t, sw = "0 V .. 0 V", "%r V .. %r V" % (x, x), "sweeps:\n  w: {signals: [t, s]}\n"
    body = "signals:\n  s: {source: {voltage: %s, resistance: %s}, pin: A0%s}\n  t: {source: {voltage: %s}, pin: A1}\n%s"
    free = check(plan(body % (s, tidy(g["source resistance"]), "", t, sw), **k))
    w = worst(free)
    slow = any(f["slug"] in ("slow-acquisition", "source-resistance") for f in free["findings"])
    out = {"shortest offered that is enough": "none" if slow else re.sub(r"\.?0+(e|$)", r"\1", "%.4g" % (w["acquisition_s"] * (1e6 if w["acquisition_s"] >= 1e-6 else 1e9))) if False else
           "none" if slow else [x for x in g["times offered"] if abs(val(x) - w["acquisition_s"]) < 1e-12][0]}
    out["time needed"] = w["acquisition_needed_s"]
    used = w["acquisition_s"]
    if "time set" in g:
        w = worst(check(plan(body % (s, tidy(g["source resistance"]), ", acquisition: " + g["time set"], t, sw), **k)))
        used = val(g["time set"])
    out["error at the time used"] = w["settling_counts"]
    out["longest source resistance for the time used"] = longest_ohms(g["bits"], val(g["sampling capacitor"]), val(g["converter switch"]), used)
    if g["step"] == "full scale":                                       # the time itself: only by size mux, with no multiplexer to speak of
        a = size("mux", on="1 uohm" if False else "0.000001 ohm", source=g["source resistance"], switch=g["converter switch"], sampling=g["sampling capacitor"], bits=g["bits"], acquisition="1 s")
        out["time needed"] = fig(a["choices"][0], "acquisition")
    return out


def acquisition_reservoir(g):
    a = size("reservoir", drawer([g["reservoir"]], "0 %", "capacitors"), source=g["source resistance"], rate=g["samples a second"], sampling=g["sampling capacitor"], switch="1k", bits=g["bits"],
             reference="3.3 V", acquisition="10 us", capacitor_tolerance="0%")
    c = first(a)
    return {"smallest reservoir": num(note(a, "at least " + NUM)), "large enough": fig(c, "at once") <= 0.5, "instant error": fig(c, "at once"), "steady pull": fig(c, "steadily")}


def acquisition_two_caps(g):
    k = dict(bits=g["bits"], cs=g["sampling capacitor"], rs=tidy(g["converter switch"]), acq=g["acquisition"], starts=", starts-from: last")
    a = check(plan("signals:\n  s: {source: {voltage: 0 V .. 3.3 V, resistance: %s}, stages: [capacitor: %s], pin: A0}\n  t: {source: {voltage: 0 V .. 3.3 V}, pin: A1}\n" %
                   (tidy(g["source resistance"]), g["capacitor at the pin"]), **k))
    w = worst(a)
    return {"time needed": w["acquisition_needed_s"], "enough": not any(f["slug"] in ("slow-acquisition", "source-resistance", "reservoir-small") for f in a["findings"]), "error at the time used": w["settling_counts"]}


def acquisition_leak(g):
    p = plan("signals:\n  s: {source: {voltage: 1.65 V .. 1.65 V, resistance: %s}, pin: A0, reading: {unit: V}}\n" % tidy(g["source resistance"]), leakage="±" + g["leakage, either sign"],
             bits=g["bits"], rail=g["reference"], acq="1 ms")
    a = check(p)
    w = worst(a)
    how("derived")
    out = {"error": (w["high_v"] - w["low_v"]) / 2}
    out["error in counts"] = out["error"] / (val(g["reference"]) / (1 << g["bits"]))
    return out


def acquisition_meter(g):
    p = plan("supplies: {x: %s}\nmeters: {m: {resistance: %s}}\nsignals:\n  s: {source: {rail: x}, stages: [divider: {upper: %s, lower: %s}], pin: A0, reading: {unit: V}}\n" %
             (g["source"], tidy(g["meter"]).replace("M", "M"), tidy(g["upper"]), tidy(g["lower"])), rail="5 V")
    a = ask("read", p, "s", "--meter", "s.divider")["meter"]
    how("derived")
    return {"with the meter on": a["predicted_loaded_v"], "without": a["predicted_unloaded_v"], "difference": a["predicted_unloaded_v"] - a["predicted_loaded_v"]}
