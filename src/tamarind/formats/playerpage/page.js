// The transcript follows the sound, and the sound the transcript. Without this script the page is
// a player with captions, and the text.
"use strict";
(() => {
  const data = JSON.parse(document.getElementById("times").textContent);
  const media = document.getElementById("media");
  const tools = document.querySelector(".tools");
  const told = document.getElementById("told");
  const texts = [...document.querySelectorAll("section.text")];
  const calm = matchMedia("(prefers-reduced-motion: reduce)");
  // A sentence in the page's language, with its numbers put in.
  const filled = (sentence, values) => sentence.replace(/\{(\w+)\}/g, (_, name) => values[name]);
  const marks = typeof CSS !== "undefined" && CSS.highlights ? CSS.highlights : null;
  const REST_MS = 4000; // after a person has scrolled, following waits
  document.documentElement.classList.add("js");
  tools.hidden = false;

  // Every paragraph: its element, and its words as [offset, length, start, end] in a row.
  const parts = texts.map((section, number) =>
    [...section.querySelectorAll(".part")].map((part, place) => ({
      part, said: part.querySelector(".said"), words: data.texts[number][place],
      speaker: part.dataset.speaker || "",
    })));
  let text = 0;
  let lit = null;
  let scrolled = 0;
  let here = -1;
  let hits = [];

  // Where an offset of a paragraph's text is: it may have parts in italics.
  const spot = (element, offset) => {
    const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
    let node = walker.nextNode();
    while (node && offset > node.length) {
      offset -= node.length;
      node = walker.nextNode();
    }
    return node ? [node, offset] : null;
  };
  const rangeOf = (element, offset, length) => {
    const first = spot(element, offset);
    const last = spot(element, offset + length);
    if (!first || !last) return null;
    const range = document.createRange();
    range.setStart(...first);
    range.setEnd(...last);
    return range;
  };
  const offsetIn = (element, node, inside) => {
    const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
    let before = 0;
    for (let one = walker.nextNode(); one; one = walker.nextNode()) {
      if (one === node) return before + inside;
      before += one.length;
    }
    return null;
  };
  // The last of a sorted row that begins at or before a value; `at` says where one begins.
  const lastBefore = (count, at, value) => {
    let low = 0;
    let high = count;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (at(middle) <= value) low = middle + 1; else high = middle;
    }
    return low - 1;
  };
  const startOf = (one) => (one.words.length ? one.words[2] : Infinity);

  const clock = (ms) => {
    const seconds = Math.floor(ms / 1000);
    const two = (number) => String(number).padStart(2, "0");
    const rest = `${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
    return seconds >= 3600 ? `${Math.floor(seconds / 3600)}:${rest}` : rest.replace(/^0/, "");
  };
  const say = (sentence) => { told.textContent = sentence; };

  const seek = (ms, plays) => {
    media.currentTime = ms / 1000;
    scrolled = 0;
    if (plays) media.play().catch(() => {});
    light();
  };

  // What is said now
  const light = () => {
    const now = media.currentTime * 1000 + 1;
    const all = parts[text];
    const place = lastBefore(all.length, (n) => startOf(all[n]), now);
    const part = place >= 0 ? all[place] : null;
    let word = -1;
    if (part) {
      const words = part.words;
      const at = lastBefore(words.length / 4, (n) => words[4 * n + 2], now);
      if (at >= 0 && now < Math.max(words[4 * at + 3], words[4 * at + 2] + 120)) word = at;
    }
    if (lit && lit.part === part && lit.word === word) return;
    if (!lit || lit.part !== part) {
      if (lit && lit.part) lit.part.part.classList.remove("now");
      if (part) part.part.classList.add("now");
      if (part && !media.paused) follow(part.part);
      chapter(now);
    }
    lit = { part, word };
    if (!marks) return;
    marks.delete("said");
    if (word >= 0) {
      const range = rangeOf(part.said, part.words[4 * word], part.words[4 * word + 1]);
      if (range) marks.set("said", new Highlight(range));
    }
  };
  const follow = (element) => {
    if (!document.getElementById("follow").checked || Date.now() - scrolled < REST_MS) return;
    const box = element.getBoundingClientRect();
    const top = innerWidth < 992 ? media.getBoundingClientRect().bottom : 0;
    if (box.top > top + 20 && box.bottom < innerHeight - 40) return;
    const y = scrollY + box.top - top - (innerHeight - top) / 3;
    scrollTo({ top: y, behavior: calm.matches ? "auto" : "smooth" });
  };
  const chapters = [...document.querySelectorAll("nav.chapters a")];
  const chapter = (now) => {
    const at = lastBefore(chapters.length, (n) => Number(chapters[n].dataset.start), now);
    chapters.forEach((link, n) => {
      if (n === at) link.setAttribute("aria-current", "true");
      else link.removeAttribute("aria-current");
    });
  };
  let frame = 0;
  const run = () => {
    light();
    frame = media.paused || media.ended ? 0 : requestAnimationFrame(run);
  };
  media.addEventListener("play", () => { if (!frame) run(); });
  for (const event of ["timeupdate", "seeked", "loadedmetadata"]) media.addEventListener(event, light);
  for (const event of ["wheel", "touchmove"]) {
    addEventListener(event, () => { scrolled = Date.now(); }, { passive: true });
  }

  // Browsers show no captions over sound alone: they stand in a line of our own there.
  const line = document.getElementById("line");
  const captioned = document.getElementById("captioned");
  if (line) {
    const tracks = [...media.textTracks].filter((track) => track.kind === "captions");
    const show = () => {
      const track = tracks.find((one) => one.mode !== "disabled");
      const cues = track && captioned.checked ? [...(track.activeCues || [])] : [];
      line.replaceChildren(...cues.map((cue) => cue.getCueAsHTML()));
    };
    for (const track of tracks) track.addEventListener("cuechange", show);
    captioned.addEventListener("change", show);
    show();
  }

  // What is seen, read aloud by the voice of the reader's own computer: the sound waits for it where
  // it takes longer than there is room.
  const aloud = document.getElementById("aloud");
  let seenAt = -1;
  const describe = () => {
    const at = lastBefore(data.seen.length, (n) => data.seen[n][0], media.currentTime * 1000 + 1);
    if (at === seenAt) return;
    const moved = at > seenAt && !media.paused && !media.seeking;
    seenAt = at;
    if (!moved || !aloud.checked || media.currentTime * 1000 - data.seen[at][0] > 1000) return;
    const saying = new SpeechSynthesisUtterance(data.seen[at][1]);
    saying.lang = texts[0].lang;
    const next = parts[text].flatMap((one) => one.words.filter((_, n) => n % 4 === 2))
      .find((start) => start > media.currentTime * 1000);
    const room = next === undefined ? Infinity : next - media.currentTime * 1000;
    const timer = setTimeout(() => { if (speechSynthesis.speaking) media.pause(); },
      Math.min(room, 86400000));
    saying.onend = () => {
      clearTimeout(timer);
      if (media.paused && aloud.checked) media.play().catch(() => {});
    };
    speechSynthesis.speak(saying);
  };
  if (aloud) {
    media.addEventListener("timeupdate", describe);
    media.addEventListener("seeked", () => { speechSynthesis.cancel(); });
    aloud.addEventListener("change", () => { if (!aloud.checked) speechSynthesis.cancel(); });
  }

  // From the text to the sound
  const wordAt = (event) => {
    const said = event.target.closest(".said");
    if (!said) return null;
    let node = null;
    let inside = 0;
    if (document.caretPositionFromPoint) {
      const found = document.caretPositionFromPoint(event.clientX, event.clientY);
      if (found) [node, inside] = [found.offsetNode, found.offset];
    } else if (document.caretRangeFromPoint) {
      const found = document.caretRangeFromPoint(event.clientX, event.clientY);
      if (found) [node, inside] = [found.startContainer, found.startOffset];
    }
    const one = parts[text].find((part) => part.said === said);
    const offset = node ? offsetIn(said, node, inside) : null;
    if (!one || offset === null || !one.words.length) return null;
    const at = lastBefore(one.words.length / 4, (n) => one.words[4 * n], offset);
    return one.words[4 * Math.max(at, 0) + 2];
  };
  for (const section of texts) {
    section.addEventListener("click", (event) => {
      if (event.target.closest("a")) return;
      if (!getSelection().isCollapsed) return;
      const start = wordAt(event);
      if (start !== null) seek(start, true);
    });
  }
  addEventListener("click", (event) => {
    const link = event.target.closest("a[data-start]");
    if (!link) return;
    event.preventDefault();
    history.replaceState(null, "", link.getAttribute("href"));
    seek(Number(link.dataset.start), true);
  });
  const arrive = () => {
    const found = /^#t=(\d+(?:\.\d+)?)$/.exec(location.hash);
    if (!found) return;
    const ms = Number(found[1]) * 1000;
    const go = () => {
      seek(ms, false);
      if (lit && lit.part) lit.part.part.scrollIntoView({ block: "center" });
    };
    if (media.readyState > 0) go(); else media.addEventListener("loadedmetadata", go, { once: true });
  };
  addEventListener("hashchange", arrive);

  // Languages, speakers
  const language = document.getElementById("language");
  const show = (number) => {
    text = number;
    if (lit && lit.part) lit.part.part.classList.remove("now");
    lit = null;
    texts.forEach((section, n) => { section.hidden = n !== number; });
    const captions = [...media.textTracks].filter((track) => track.kind === "captions");
    const showing = captions.some((track) => track.mode === "showing");
    captions.forEach((track) => {
      const own = track.language === texts[number].lang;
      if (showing) track.mode = own ? "showing" : "disabled";
    });
    find();
    fade();
    light();
  };
  if (language) {
    language.addEventListener("change", () => {
      show(language.selectedIndex);
      say(language.selectedOptions[0].textContent);
    });
  }
  const speaker = document.getElementById("speaker");
  const fade = () => {
    const who = speaker ? speaker.value : "";
    for (const one of parts[text]) one.part.classList.toggle("faded", who !== "" && one.speaker !== who);
  };
  if (speaker) speaker.addEventListener("change", fade);

  // Finding
  const sought = document.getElementById("sought");
  const fold = (string) => string.toLowerCase();
  const find = () => {
    const wanted = fold(sought.value.trim());
    hits = [];
    here = -1;
    if (wanted) {
      for (const one of parts[text]) {
        const whole = fold(one.said.textContent);
        for (let at = whole.indexOf(wanted); at >= 0; at = whole.indexOf(wanted, at + wanted.length)) {
          const range = rangeOf(one.said, at, wanted.length);
          if (range) hits.push({ range, one, at });
        }
      }
    }
    if (marks) {
      marks.delete("here");
      if (hits.length) marks.set("found", new Highlight(...hits.map((hit) => hit.range)));
      else marks.delete("found");
    }
    say(wanted ? filled(data.say.found, { n: hits.length }) : "");
  };
  const goTo = (step) => {
    if (!hits.length) return;
    here = (here + step + hits.length) % hits.length;
    const hit = hits[here];
    if (marks) marks.set("here", new Highlight(hit.range));
    scrolled = Date.now();
    hit.one.part.scrollIntoView({ block: "center" });
    const at = lastBefore(hit.one.words.length / 4, (n) => hit.one.words[4 * n], hit.at);
    const start = hit.one.words[4 * Math.max(at, 0) + 2];
    say(filled(data.say.place, { k: here + 1, n: hits.length, time: clock(start) }));
    media.currentTime = start / 1000;
    light();
  };
  sought.addEventListener("input", find);
  sought.addEventListener("keydown", (event) => {
    if (event.key !== "Enter") return;
    event.preventDefault();
    goTo(event.shiftKey ? -1 : 1);
  });
  document.getElementById("next").addEventListener("click", () => goTo(1));

  // Taking away
  const put = async (string, sentence) => {
    try {
      await navigator.clipboard.writeText(string);
    } catch {
      const area = document.createElement("textarea");
      area.value = string;
      document.body.append(area);
      area.select();
      document.execCommand("copy");
      area.remove();
    }
    say(sentence);
  };
  const linkTo = (ms) => `${location.href.split("#")[0]}#t=${(ms / 1000).toFixed(1)}`;
  document.getElementById("link").addEventListener("click", () => {
    const now = media.currentTime * 1000;
    put(linkTo(now), filled(data.say.linked, { time: clock(now) }));
  });
  document.getElementById("copy").addEventListener("click", () => {
    const selection = getSelection();
    let one = lit && lit.part ? lit.part : parts[text][0];
    let said = "";
    if (!selection.isCollapsed) {
      const within = parts[text].find((part) => selection.containsNode(part.said, true));
      if (within) {
        one = within;
        said = selection.toString();
      }
    }
    if (!one) return;
    let start = startOf(one);
    if (said) {
      const range = selection.getRangeAt(0);
      const offset = offsetIn(one.said, range.startContainer, range.startOffset);
      const at = offset === null ? 0
        : lastBefore(one.words.length / 4, (n) => one.words[4 * n], offset);
      start = one.words[4 * Math.max(at, 0) + 2];
    } else {
      said = one.said.textContent;
    }
    const source = [one.speaker, document.title, clock(start)].filter(Boolean).join(", ");
    put(`“${said.trim()}” (${source})`, filled(data.say.copied, { time: clock(start) }));
  });

  if (language) show(Math.max(texts.findIndex((section) => section.dataset.first === "yes"), 0));
  light();
  arrive();
})();
