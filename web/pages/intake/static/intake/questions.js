// The questions that a heap leaves, answered one after the other by keys 1 to 5: what was pressed counts at once, and
// is sent while the next one is asked. It waits in this tab until the server has it, through a reload too.
(() => {
  const KEPT = `wax-heap-answers-${document.documentElement.dataset.who}`, AGAIN_MS = 2000, SENT_AT_MOST_MS = 20000;
  const DESCRIBED = ["tone", "opacity", "flake", "belly", "category", "name"];
  let waiting = [], sending = false;
  try { waiting = JSON.parse(sessionStorage.getItem(KEPT)) || []; } catch { waiting = []; }

  const panel = () => document.querySelector("[data-questions]");
  const open = () => [...document.querySelectorAll(".typed-question:not([hidden])")];
  const keep = () => sessionStorage.setItem(KEPT, JSON.stringify(waiting));

  function say() {
    const said = panel()?.querySelector("[data-sending]");
    if (said) said.textContent = waiting.length ? `${waiting.length} on their way` : "";
  }

  async function send() {
    if (sending || !waiting.length || !panel()) return;
    sending = true;
    const rows = waiting[0];
    try {
      const answer = await fetch(panel().dataset.send, {
        method: "POST", body: JSON.stringify(rows), signal: AbortSignal.timeout(SENT_AT_MOST_MS),
        headers: { "Content-Type": "application/json", ...JSON.parse(document.body.getAttribute("hx-headers")) },
      });
      // Signed out, too busy or broken there: it stays here. What was refused as nonsense would be so again.
      if (answer.redirected || (!answer.ok && answer.status !== 400)) throw new Error(String(answer.status));
      waiting.shift();
      keep();
    } catch {
      setTimeout(() => { sending = false; send(); }, AGAIN_MS);
      say();
      return;
    }
    sending = false;
    say();
    if (waiting.length) send();
    else if (!open().length) htmx.trigger("#lines", "reread");
  }

  function focus(question) {
    for (const one of document.querySelectorAll(".typed-question.is-now")) one.classList.remove("is-now");
    if (!question) return;
    question.classList.add("is-now");
    question.querySelector("button").focus();
    question.scrollIntoView({ block: "center" });
  }

  function answered(question, words) {
    for (const row of JSON.parse(question.dataset.rows)) {
      const why = document.querySelector(`#typed-row-${row.number} .typed-why`);
      if (why) why.textContent = `→ ${words}`;
    }
    const [next] = open().filter((one) => one !== question && question.compareDocumentPosition(one) & 4);
    question.hidden = true;
    const left = open().length;
    document.getElementById("questions-title").textContent = left ? `${left} open` : "All answered";
    focus(next || open()[0]);
  }

  function press(button) {
    const question = button.closest(".typed-question"), rows = JSON.parse(question.dataset.rows);
    if ("other" in button.dataset) {
      const make = question.dataset.colourOf && question.querySelector("[data-describe]");
      if (question.dataset.colourOf && !make) return describe(question, rows);
      const field = document.querySelector(`[name="${question.dataset.field}-${rows[0].number}"]`);
      field?.focus();
      return field?.scrollIntoView({ block: "center" });
    }
    const told = JSON.parse(button.dataset.told);
    waiting.push(rows.map((row, at) => ({ ...row, told: told[at] })));
    keep();
    answered(question, button.lastChild.textContent.trim());
    say();
    return send();
  }

  async function describe(question, rows) {
    const address = new URL(document.querySelector("[data-describe-at]").dataset.describeAt, location);
    const typed = document.querySelector(`#typed-row-${rows[0].number} [data-colour-typed]`)?.dataset.colourTyped || "";
    address.search = new URLSearchParams({ category: question.dataset.colourOf, name: typed });
    const target = question.querySelector(".chips");
    await htmx.ajax("GET", address.pathname + address.search, { target, swap: "innerHTML" });
    question.querySelector("[data-step]:not([hidden]) button")?.focus();
  }

  // A colour of one's own in four presses: each step's button fills its field and shows the next; the last one sends.
  async function step(button) {
    const form = button.closest("[data-describe]"), here = button.closest("[data-step]");
    form.dataset[here.dataset.step] = button.value;
    const next = here.nextElementSibling?.matches("[data-step]") ? here.nextElementSibling : null;
    here.hidden = true;
    if (next) { next.hidden = false; return next.querySelector("button").focus(); }
    const question = form.closest(".typed-question"), told = new FormData();
    for (const name of DESCRIBED) told.append(name, form.dataset[name] || "");
    const answer = await fetch(form.dataset.describe, {
      method: "POST", body: told, headers: JSON.parse(document.body.getAttribute("hx-headers")),
    }).catch(() => null);
    const made = answer && await answer.json().catch(() => null);
    if (!made?.card) {
      form.querySelector("[data-wrong]").textContent = made?.wrong || "That did not go through: press once more.";
      here.hidden = false;
      return here.querySelector("button").focus();
    }
    const rows = JSON.parse(question.dataset.rows), name = `${form.dataset.category}:${form.dataset.name}`;
    waiting.push(rows.map((row) => ({ ...row, told: { card: made.card, ...(form.dataset.name ? { name } : {}) } })));
    keep();
    answered(question, made.called);
    return send();
  }

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("button");
    if (button?.matches("[data-begin]")) focus(open()[0]);
    else if (button?.closest("[data-step]")) step(button);
    else if (button?.matches(".typed-question [data-told], .typed-question [data-other]")) press(button);
  });
  document.addEventListener("keydown", (event) => {
    const question = event.target.closest?.(".typed-question");
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey && !event.repeat;
    if (!question || !plain || !/^[1-9]$/.test(event.key)) return;
    const shown = question.querySelector("[data-step]:not([hidden])") || question;
    const button = shown.querySelectorAll("button")[Number(event.key) - 1];
    if (!button) return;
    event.preventDefault();
    event.stopPropagation();
    button.click();
  });
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.detail.target?.id !== "rows") return;
    say();
    if (document.activeElement === document.body) focus(open()[0]);
    send();
  });
  // Pasted many at once, the questions are what comes next.
  document.addEventListener("paste", (event) => {
    const lines = event.clipboardData?.getData("text").split("\n").length || 0;
    if (event.target.id !== "lines" || lines < 4) return;
    document.addEventListener("htmx:afterSwap", () => focus(open()[0]), { once: true });
  });
  send();
})();
