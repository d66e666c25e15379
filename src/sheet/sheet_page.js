/* SPDX-License-Identifier: MIT */
"use strict";
/* Fields say at once whether a reading is inside; ticks and readings stay in the page, and go out as CSV. */
(() => {
  const key = "bench sheet " + document.body.dataset.key;
  const fields = [...document.querySelectorAll("input.reading")];
  const ticks = [...document.querySelectorAll("input[type=checkbox]")];
  const told = document.getElementById("told");
  const scales = { m: 1e-3, u: 1e-6, "µ": 1e-6, k: 1e3, K: 1e3, M: 1e6, "": 1 };

  /* `2.21`, `2,21`, `2210m`, `10.9k`, `2.21 V`, `open`; NaN: no reading. */
  function read(text, ohms) {
    if (ohms && /^(open|OL)$/i.test(text)) return Infinity;
    const m = /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*([mukKMµ]?)\s*(V|Ω|ohm|R)?$/.exec(text);
    if (!m || (m[3] && (m[3] === "V") === ohms)) return NaN;
    return Number(m[1].replace(",", ".")) * scales[m[2]];
  }
  function figure(value, ohms) {
    if (!ohms) return Math.abs(value) < 1 ? (value * 1e3).toFixed(0) + " mV" : value.toFixed(3) + " V";
    return value >= 1e6 ? (value / 1e6).toFixed(3) + " MΩ" : value >= 1e3 ? (value / 1e3).toFixed(2) + " kΩ" : value.toFixed(0) + " Ω";
  }

  /* Supplies that were measured, by their letters. */
  function letters() {
    const of = {};
    for (const f of fields)
      if (f.dataset.measures) of[f.dataset.measures] = read(f.value.trim(), false);
    return of;
  }
  function spanOf(f, known) {
    const d = f.dataset, base = d.of ? known[d.of] : NaN;
    return Number.isFinite(base)
      ? { least: base * d.factorLeast - d.fixed, most: base * d.factorMost + Number(d.fixed), exact: true }
      : { least: Number(d.least), most: Number(d.most), exact: !d.of };
  }
  function verdict(f, known) {
    const text = f.value.trim(), ohms = f.dataset.ohms === "1", span = spanOf(f, known), value = read(text, ohms);
    if (text === "") return ["", ""];
    if (Number.isNaN(value)) return ["not a reading: such as " + (ohms ? "10.9k" : "2.21 or 2210m"), "bad"];
    if (value === Infinity) return ["▲ open", "bad"];
    if (value < span.least) return ["▼ " + figure(span.least - value, ohms) + " below", "bad"];
    if (value > span.most) return ["▲ " + figure(value - span.most, ohms) + " above", "bad"];
    return span.exact ? ["✓ inside", "good"] : ["measure " + f.dataset.of + " first", ""];
  }
  function show() {
    const known = letters(), marks = {};
    for (const f of fields) {
      const [words, kind] = verdict(f, known), out = document.getElementById(f.id + "v"), row = f.closest("tr");
      if (out.textContent !== words) out.textContent = words;
      out.className = kind;
      if (f.dataset.of) {
        const span = spanOf(f, known);
        row.querySelector(".least").textContent = span.least.toFixed(3) + " V";
        row.querySelector(".most").textContent = span.most.toFixed(3) + " V";
      }
      const number = f.dataset.check;
      if (kind) marks[number] = marks[number] === "bad" ? "bad" : kind;
    }
    for (const a of document.querySelectorAll("a.check")) {
      a.classList.toggle("good", marks[a.dataset.check] === "good");
      a.classList.toggle("bad", marks[a.dataset.check] === "bad");
    }
    for (const t of ticks) {
      t.closest("tr, .part").classList.toggle("done", t.checked);
      for (const a of document.querySelectorAll('a.row[data-row="' + t.dataset.row + '"]')) a.classList.toggle("done", t.checked);
    }
  }

  /* --- kept --- */
  function keep() {
    const state = {};
    for (const f of fields) if (f.value) state[f.id] = f.value;
    for (const t of ticks) if (t.checked) state[t.id] = true;
    try { localStorage.setItem(key, JSON.stringify(state)); } catch { /* a page that may keep nothing works all the same */ }
  }
  function recall() {
    let state = null;
    try { state = JSON.parse(localStorage.getItem(key)); } catch { /* as above */ }
    for (const f of fields) f.value = (state && state[f.id]) || "";
    for (const t of ticks) t.checked = Boolean(state && state[t.id]);
  }
  const quoted = text => /[",\n]/.test(text) ? '"' + text.replace(/"/g, '""') + '"' : text;
  function csv() {
    const rows = [["checkpoint", "signal", "power", "when", "measured"]];
    for (const f of fields)
      if (f.value.trim() && !Number.isNaN(read(f.value.trim(), f.dataset.ohms === "1")))
        rows.push([f.dataset.check, f.dataset.signal, f.dataset.ohms === "1" ? "off" : "on", f.dataset.when,
          f.value.trim().replace(",", ".")]);
    return rows.map(r => r.map(quoted).join(",")).join("\n") + "\n";
  }
  function save() {
    const a = document.createElement("a");
    a.href = URL.createObjectURL(new Blob([csv()], { type: "text/csv" }));
    a.download = "checked.csv";
    a.click();
    setTimeout(() => URL.revokeObjectURL(a.href), 1000);
    told.textContent = "saved; judge it again with: " + document.body.dataset.command + " --checked checked.csv";
  }

  document.addEventListener("input", () => { keep(); show(); });
  document.addEventListener("click", event => {
    const row = event.target.closest("tr.tick"), disc = event.target.closest("a.check");
    if (row && !event.target.closest("input, a, label")) row.querySelector("input").click();
    if (disc) {
      const first = document.querySelector('input.reading[data-check="' + disc.dataset.check + '"]');
      if (first) { event.preventDefault(); first.focus(); first.scrollIntoView({ block: "center" }); }
    }
  });
  document.addEventListener("keydown", event => {
    const at = fields.indexOf(event.target);
    if (event.key === "Enter" && at >= 0 && at + 1 < fields.length) fields[at + 1].focus();
  });
  document.getElementById("save").addEventListener("click", save);
  document.getElementById("clear").addEventListener("click", () => {
    if (!confirm("Forget all ticks and readings of this sheet?")) return;
    for (const f of fields) f.value = "";
    for (const t of ticks) t.checked = false;
    keep();
    show();
  });
  recall();
  show();
  document.documentElement.dataset.ready = "1";
})();
