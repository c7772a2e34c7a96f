"use strict";
(() => {
  const charts = JSON.parse(document.getElementById("charts").textContent);
  const colours = ["#0072b2", "#d55e00", "#009e73", "#cc79a7", "#e69f00", "#56b4e9", "#7f7f7f", "#8c6d31"];
  const symbols = ["circle", "square", "triangle", "diamond", "star", "cross", "times", "wye"];
  const minus = text => text.replace("-", "\u2212");
  const digits = (value, most = 3) => minus(Number(value.toPrecision(most)).toLocaleString("en-US", { maximumSignificantDigits: most }));
  const unit = (value, units) => { const found = units.find(each => Math.abs(value) >= each[0]) ?? units.at(-1); return `${digits(value / found[0])} ${found[1]}`.trim(); };
  const write = {
    time: value => unit(value, [[1e9, "s"], [1e6, "ms"], [1e3, "\u00b5s"], [1, "ns"]]),
    bytes: value => unit(value, [[2 ** 30, "GiB"], [2 ** 20, "MiB"], [2 ** 10, "KiB"], [1, "B"]]),
    rate: value => unit(value, [[1e12, "T"], [1e9, "G"], [1e6, "M"], [1e3, "k"], [1, ""]]),
    factor: value => value === 1 ? "1" : value < 1 ? `\u00f7 ${digits(1 / value)}` : `\u00d7 ${digits(value)}`,
    share: value => `${digits(100 * value)} %`,
    number: value => digits(value, 6),
  };

  // Points as objects, with the names of their places.
  const points = (chart, series) => series.p.map(point => ({
    name: series.n, x: point[0], y: chart.y.c ? chart.y.c[point[1]] : point[1], lower: point[2] ?? null, upper: point[3] ?? null, muted: point[4] === 1,
  }));

  // Within less than a decade a logarithmic axis would name but one or two of its ticks.
  const ticks = (of, values, linear) => {
    const known = values.filter(value => Number.isFinite(value) && value > 0);
    const [low, high] = [Math.min(...known), Math.max(...known)];
    if (!of.g || linear || known.length === 0 || high === low || high / low > 4) {
      return 6;
    }

    const least = (high - low) / 5;
    const power = 10 ** Math.floor(Math.log10(least));
    const step = [1, 2, 5, 10].map(each => each * power).find(each => each >= least);
    const [first, last] = [Math.ceil(low / step), Math.floor(high / step)];
    return Array.from({ length: last - first + 1 }, (_, index) => (first + index) * step);
  };

  const axis = (of, values, linear) => ({
    type: of.c ? undefined : of.g && !linear ? "log" : "linear", label: of.l, domain: of.c ?? undefined, grid: !of.c,
    tickFormat: of.c ? undefined : write[of.q], ticks: of.c ? undefined : ticks(of, values, linear), nice: !of.c && !(of.g && !linear), inset: of.c ? 0 : 10,
  });

  function draw(place, chart, linear) {
    const names = chart.s.map(series => series.n);
    const every = place => chart.s.flatMap(series => series.p.map(point => point[place]));
    const marks = [];
    for (const series of chart.s) {
      const all = points(chart, series);
      const tip = { tip: true, title: point => `${point.name}\n${chart.x.l}: ${write[chart.x.q](point.x)}\n${chart.y.c ? point.y : `${chart.y.l}: ${write[chart.y.q](point.y)}`}` };
      if (series.k === "line") {
        marks.push(Plot.line(all, { x: "x", y: "y", stroke: "name" }));
        marks.push(Plot.ruleX(all.filter(point => point.lower !== null), { x: "x", y1: "lower", y2: "upper", stroke: "name" }));
        marks.push(Plot.dot(all, { x: "x", y: "y", stroke: "name", symbol: "name", fill: "var(--ground)", r: all.length > 30 ? 0 : 4, ...tip }));
      } else if (series.k === "intervals") {
        marks.push(Plot.ruleY(all, { y: "y", x1: "lower", x2: "upper", stroke: "name", strokeWidth: 2 }));
        marks.push(Plot.dot(all, { x: "x", y: "y", fill: "name", symbol: "name", r: 4, ...tip }));
      } else if (series.k === "bars") {
        marks.push({ bars: all });
      } else {
        marks.push(Plot.dot(all, { x: "x", y: "y", stroke: "name", symbol: "name", strokeOpacity: point => point.muted ? 0.2 : 0.85, r: all.length > 60 ? 2 : 4, ...(all.length > 4000 ? {} : tip) }));
      }
    }

    const bars = marks.filter(mark => mark.bars).flatMap(mark => mark.bars);
    const drawn = marks.filter(mark => !mark.bars);
    if (bars.length > 0) {
      drawn.push(Plot.barX(bars, Plot.stackX({ x: "x", y: "y", fill: "name", tip: true })));
    }
    if (chart.x.q === "factor") {
      drawn.unshift(Plot.ruleX([1], { stroke: "var(--faint)", strokeDasharray: "2,3" }));
    }
    const longest = chart.y.c ? Math.min(260, 14 + 8 * Math.max(...chart.y.c.map(name => name.length))) : 70;
    const width = Math.max(240, place.clientWidth || 900);
    const margin = Math.min(longest, width * 0.4);
    const most = Math.max(9, Math.floor(margin / 7) - 1);
    const squeezed = name => name.length > most ? `${name.slice(0, Math.floor(most / 2))}\u2026${name.slice(-Math.floor(most / 2))}` : name;
    const figure = Plot.plot({
      width, height: chart.y.c ? 70 + 26 * chart.y.c.length : Math.min(420, width * 0.6),
      marginLeft: margin, marginRight: 30, marginBottom: 40,
      x: axis(chart.x, every(0), linear),
      y: { ...axis(chart.y, every(1), linear), label: chart.y.l || null, tickFormat: chart.y.c ? squeezed : write[chart.y.q] },
      color: { domain: names, range: names.map((_, index) => colours[index % colours.length]), legend: names.length > 1 && bars.length > 0 },
      symbol: { domain: names, range: names.map((_, index) => symbols[index % symbols.length]), legend: names.length > 1 && bars.length === 0 },
      style: { background: "transparent", color: "var(--ink)", fontSize: "12px", fontFamily: "system-ui, sans-serif" },
      marks: drawn,
    });
    place.replaceChildren(figure);
  }

  // The same figures for whoever does not see the picture; of very many points what they come to.
  function tabulate(place, chart) {
    const table = document.createElement("table");
    const row = (cells, kind) => {
      const line = document.createElement("tr");
      for (const cell of cells) {
        const made = document.createElement(kind);
        made.textContent = cell;
        line.append(made);
      }
      table.append(line);
    };
    if (chart.s.reduce((sum, series) => sum + series.p.length, 0) > 400) {
      row(["", "points", "least", "middle", "most"], "th");
      for (const series of chart.s) {
        const sorted = series.p.map(point => point[1]).sort((a, b) => a - b);
        row([series.n, digits(sorted.length, 9), write[chart.y.q](sorted[0]), write[chart.y.q](sorted[sorted.length >> 1]), write[chart.y.q](sorted.at(-1))], "td");
      }
    } else {
      const along = chart.y.c ? chart.x : chart.y;
      row(["", chart.x.l, chart.y.l || "of", "from", "to"], "th");
      for (const series of chart.s) {
        for (const point of points(chart, series)) {
          row([point.name, write[chart.x.q](point.x), chart.y.c ? point.y : write[chart.y.q](point.y),
            point.lower === null ? "" : write[along.q](point.lower), point.upper === null ? "" : write[along.q](point.upper)], "td");
        }
      }
    }
    place.replaceChildren(table);
  }

  for (const box of document.querySelectorAll("details[data-chart]")) {
    const chart = charts[Number(box.dataset.chart)];
    const place = box.querySelector(".plot");
    const table = box.querySelector("details");
    const turn = box.querySelector("button");
    let isLinear = false;
    const show = () => { if (box.open) { draw(place, chart, isLinear); } };
    box.addEventListener("toggle", show);
    table.addEventListener("toggle", () => { if (table.open) { tabulate(table.querySelector(".wide"), chart); } });
    turn?.addEventListener("click", () => {
      isLinear = !isLinear;
      turn.textContent = isLinear ? "logarithmic axes" : "linear axes";
      turn.setAttribute("aria-pressed", String(isLinear));
      show();
    });
    show();
    let width = innerWidth;
    addEventListener("resize", () => { if (innerWidth !== width) { width = innerWidth; show(); } });
    addEventListener("beforeprint", show);
  }

  const theme = document.getElementById("theme");
  theme.addEventListener("click", () => {
    const isDark = getComputedStyle(document.documentElement).colorScheme === "dark";
    document.documentElement.dataset.theme = isDark ? "light" : "dark";
  });

  const results = document.getElementById("results");
  // A page of a history has no such table.
  if (results === null) {
    return;
  }

  const body = results.tBodies[0];
  results.querySelectorAll("th button").forEach((button, column) => button.addEventListener("click", () => {
    const head = button.closest("th");
    const isUp = head.getAttribute("aria-sort") !== "ascending";
    results.querySelectorAll("th").forEach(other => other.removeAttribute("aria-sort"));
    head.setAttribute("aria-sort", isUp ? "ascending" : "descending");
    const value = row => row.cells[column].dataset.v === undefined ? row.cells[column].textContent : Number(row.cells[column].dataset.v);
    const rows = [...body.rows].sort((a, b) => {
      const [first, second] = [value(a), value(b)];
      const order = typeof first === "number" && typeof second === "number" ? first - second : String(first).localeCompare(String(second));
      return Number.isNaN(order) ? 0 : isUp ? order : -order;
    });
    body.append(...rows);
  }));

  const filters = [...document.querySelectorAll("[data-filter]")];
  const count = document.getElementById("count");
  const filter = () => {
    let shown = 0;
    for (const row of body.rows) {
      row.hidden = !filters.every(each => each.value === "" || (each.dataset.filter === "text"
        ? row.textContent.toLowerCase().includes(each.value.toLowerCase()) : row.dataset[each.dataset.filter] === each.value));
      shown += row.hidden ? 0 : 1;
    }
    count.textContent = `${shown} of ${body.rows.length} rows`;
    const study = filters.find(each => each.dataset.filter === "study")?.value ?? "";
    for (const section of document.querySelectorAll("section[data-study]")) {
      section.hidden = study !== "" && section.dataset.study !== study;
    }
  };
  filters.forEach(each => each.addEventListener("input", filter));
})();
