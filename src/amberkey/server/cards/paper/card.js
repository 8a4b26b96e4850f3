// Finds what is pressed on the card, and lets people test themselves. Nothing of it leaves the browser.
"use strict";

(() => {
  const told = JSON.parse(document.getElementById("told").textContent);
  const lines = [...document.querySelectorAll("[data-line]")];
  const found = document.getElementById("found");
  const asked = document.getElementById("asked");
  const button = document.getElementById("test");
  const MODIFIERS = ["Control", "Alt", "Shift", "Meta", "AltGraph"];
  const next = document.getElementById("next");
  const kept = `amber-key-card-${told.number}`;
  // What sits is remembered by what stands on the line: a key that was moved since is to be learned again, on any card.
  const SITS = "amber-key-sits";
  const BEGUN = "amber-key-begun";
  const WEEK = 7 * 24 * 3600 * 1000;
  const weeks = document.getElementById("weeks");
  const sits = new Set(JSON.parse(localStorage.getItem(SITS) ?? "[]"));
  const own = (line) => `${name(line)}: ${line.querySelector(".keys").textContent.trim()}`;
  let presses = [];
  let testing = null;

  // A shortcut as a card writes it (`Control+Shift+S then G`), as what a keyboard says of it.
  function parsed(text) {
    return text.split(" then ").map((press) => {
      const parts = press.split("+").filter(Boolean);
      const key = parts.pop() ?? "";
      return JSON.stringify([parts.filter((p) => MODIFIERS.includes(p)).sort(), key === "Plus" ? "+" : key.toLowerCase()]);
    });
  }

  const keys = lines.map((line) => [...line.querySelectorAll("[data-key]")].map((k) => parsed(k.dataset.key)));

  function pressOf(event) {
    const held = MODIFIERS.filter((m) => event.getModifierState(m));
    // What Shift makes of a key is the key's own matter: a letter is the same with it, a sign brings it along.
    const sign = event.key.length === 1 && event.key.toLowerCase() === event.key.toUpperCase();
    const own = sign ? held.filter((m) => m !== "Shift") : held;
    return JSON.stringify([own.sort(), event.key === " " ? "space" : event.key.toLowerCase()]);
  }

  const begins = (way) => presses.every((p, n) => way[n] === p);
  const isWhole = (way) => way.length === presses.length && begins(way);
  const name = (line) => line.querySelector(".what").textContent.trim();
  // As it is told: with its programs in brackets, where it isn't the same everywhere.
  const called = (line) => {
    const what = line.querySelector(".what");
    const programs = what.querySelector("small")?.textContent.trim();
    return programs ? `${what.firstChild.textContent.trim()} (${programs})` : name(line);
  };

  function mark(chosen) {
    for (const line of lines) line.classList.toggle("here", chosen.includes(line));
    chosen[0]?.scrollIntoView({ block: "nearest" });
  }

  // Cards stand in the order in which keys are worth learning: the next ones are the first that don't sit, then those of the
  // weeks after this one, counted from the first test.
  function showNext() {
    const learned = lines.filter((line, n) => keys[n].length > 0);
    const open = learned.filter((line) => !sits.has(own(line)));
    const week = open.slice(0, told.pace);
    for (const line of lines) {
      line.classList.toggle("sits", sits.has(own(line)));
      line.classList.toggle("next", week.includes(line));
    }
    const names = (own) => [...new Set(own.map(called))].join(", ");
    next.textContent = open.length > 0 ? told.said.next.replace("{names}", names(week)) : told.said["all sit"];
    const passed = Math.max(0, Math.floor((Date.now() - Number(localStorage.getItem(BEGUN) ?? Date.now())) / WEEK));
    weeks.replaceChildren();
    for (let n = told.pace, number = passed + 2; n < open.length; n += told.pace, number += 1) {
      const item = document.createElement("li");
      const head = document.createElement("b");
      head.textContent = told.said.week.replace("{number}", number);
      item.append(head, ` ${names(open.slice(n, n + told.pace))}`);
      weeks.append(item);
    }
  }

  document.addEventListener("keydown", (event) => {
    if (MODIFIERS.includes(event.key) || event.key === "Tab" || (event.target === button && [" ", "Enter"].includes(event.key))) return;
    presses.push(pressOf(event));
    let open = lines.filter((_, n) => keys[n].some(begins));
    if (open.length === 0 && presses.length > 1) {
      presses = [pressOf(event)];
      open = lines.filter((_, n) => keys[n].some(begins));
    }
    const whole = lines.filter((_, n) => keys[n].some(isWhole));
    if (open.length > 0) event.preventDefault();
    if (testing !== null) {
      if (open.length > 0 && whole.length === 0) return;
      answer(whole);
    } else if (whole.length > 0) {
      mark(whole);
      found.textContent = whole.map(called).join("; ");
    } else {
      mark([]);
      found.textContent = open.length > 0 ? "…" : told.said.nobody;
    }
    if (whole.length > 0 || open.length === 0) presses = [];
  });

  function ask() {
    presses = [];
    const [line] = testing.left;
    if (!line) {
      const { right, all } = testing;
      localStorage.setItem(kept, JSON.stringify({ right, all }));
      localStorage.setItem(SITS, JSON.stringify([...sits]));
      if (localStorage.getItem(BEGUN) === null) localStorage.setItem(BEGUN, String(Date.now()));
      showNext();
      asked.textContent = told.said.done.replace("{right}", right).replace("{all}", all);
      stop();
      return;
    }
    asked.textContent = told.said.which.replace("{name}", called(line));
  }

  function answer(whole) {
    const [now] = testing.left;
    const right = whole.includes(now);
    mark([now]);
    found.textContent = right ? told.said.right : told.said["not it"];
    testing.right += right && !testing.missed ? 1 : 0;
    if (!right) sits.delete(own(now));
    else if (!testing.missed) sits.add(own(now));
    testing.missed = !right;
    if (right) {
      testing.left.shift();
      ask();
    }
  }

  function stop() {
    testing = null;
    document.body.classList.remove("testing");
    button.setAttribute("aria-pressed", "false");
  }

  button.addEventListener("click", () => {
    if (testing !== null) {
      stop();
      asked.textContent = "";
      return;
    }
    const left = lines.filter((_, n) => keys[n].length > 0).sort(() => Math.random() - 0.5);
    testing = { left, all: left.length, right: 0, missed: false };
    mark([]);
    found.textContent = "";
    document.body.classList.add("testing");
    button.setAttribute("aria-pressed", "true");
    ask();
  });

  if (sits.size > 0) showNext();
  const before = JSON.parse(localStorage.getItem(kept) ?? "null");
  if (before) asked.textContent = told.said.again.replace("{right}", before.right).replace("{all}", before.all);
})();
