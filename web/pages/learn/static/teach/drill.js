// The drill: all questions came with the page. A pick is written to this phone first and sent when there is a signal;
// the server plays it again and takes each id once.
(() => {
  const root = document.getElementById("drill"), $ = (id) => document.getElementById(id);
  const questions = [...root.querySelectorAll(".question")], score = { first: 0, does: 0, wrong: 0 };
  const owner = root.dataset.owner, KEEP_MS = 60 * 24 * 3600 * 1000, EVERY_MS = 15000;
  let here = 0;
  const opened = idb.openDB("wax-teach", 1, { upgrade(db) { db.createObjectStore("answers", { keyPath: "id" }); } });
  const picksOf = (question) => [...question.querySelectorAll(".teach-pick")];

  // What was answered on this phone and is not sent yet is not asked again when the kept page is opened anew.
  async function begin() {
    await who.ready;
    if (!(await who.is(owner))) { root.replaceChildren(); return; }
    const waiting = await (await opened).getAll("answers");
    const said = new Set(waiting.filter((one) => one.owner === owner).map((one) => `${one.cell} ${one.seed}`));
    for (const question of questions) if (said.has(`${question.dataset.cell} ${question.dataset.seed}`)) question.dataset.said = "1";
    show(0);
    send();
  }

  function show(from) {
    here = from;
    while (here < questions.length && questions[here].dataset.said) here += 1;
    questions.forEach((question, place) => { question.hidden = place !== here; });
    const left = questions.slice(here).filter((one) => !one.dataset.said).length;
    if (here < questions.length) {
      $("drill-left").textContent = `${left} left. 1 to ${picksOf(questions[here]).length} pick, Enter goes on.`;
      if (from) questions[here].focus();
    } else if (questions.length) {
      $("drill-done").hidden = false;
      $("drill-score").textContent = `${score.first} right, ${score.does} that would do, ${score.wrong} not. They come again when you would begin to forget them.`;
      $("drill-left").textContent = "";
      $("drill-head").textContent = "Done for now.";
      if (from) $("drill-done").focus();
    }
  }

  async function pick(button) {
    const question = button.closest(".question");
    if (question.dataset.said) return;
    question.dataset.said = "1";
    score[button.dataset.pick] += 1;
    for (const one of picksOf(question)) { one.disabled = true; one.setAttribute("aria-pressed", String(one === button)); if (one.dataset.pick === "first") one.classList.add("is-first"); }
    const said = button.parentElement.querySelector(".pick-said");
    said.hidden = false;
    said.setAttribute("role", "status");
    question.querySelector("[data-after]").hidden = false;
    question.querySelector("[data-next]").focus();
    await (await opened).put("answers", { id: crypto.randomUUID(), owner, cell: question.dataset.cell, seed: Number(question.dataset.seed), card: button.dataset.card, at: Date.now() });
    send();
  }

  async function freshToken(token) {
    const answer = await fetch(location.pathname, { headers: { "X-Fresh": "1" }, cache: "no-store" });
    if (!answer.ok || answer.redirected) return false;
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("meta[name=csrf]")?.content;
    if (fresh) token.content = fresh;
    return Boolean(fresh);
  }

  async function post(answers, again = true) {
    const token = document.querySelector("meta[name=csrf]");
    const body = JSON.stringify({ now: Date.now(), answers: answers.map(({ id, cell, seed, card, at }) => ({ id, cell, seed, card, at })) });
    const answer = await fetch(root.dataset.send, { method: "POST", body, headers: { "Content-Type": "application/json", "X-CSRFToken": token.content }, signal: AbortSignal.timeout(20000) });
    if (answer.status === 403 && again && (await freshToken(token))) return post(answers, false);
    if (!answer.ok || answer.redirected) throw new Error(`${answer.status}`);
    return answer.json();
  }

  // What is kept goes out; one tab at a time. Those older than the server takes are let go.
  function send() {
    return navigator.locks.request("wax-teach-send", async () => {
      const db = await opened, mine = (await db.getAll("answers")).filter((one) => one.owner === owner);
      for (const old of mine.filter((one) => Date.now() - one.at > KEEP_MS)) await db.delete("answers", old.id);
      const left = mine.filter((one) => Date.now() - one.at <= KEEP_MS).slice(0, 100);
      if (!left.length) { $("drill-sent").textContent = ""; return; }
      try {
        const told = await post(left);
        for (const id of [...told.taken, ...Object.keys(told.refused)]) await db.delete("answers", id);
        $("drill-sent").textContent = "";
      } catch {
        $("drill-sent").textContent = `${left.length} of your picks ${left.length === 1 ? "is" : "are"} kept on this phone, and sent when there is a signal.`;
      }
    });
  }

  root.addEventListener("click", (event) => {
    const button = event.target.closest("button");
    if (!button) return;
    if (button.matches(".teach-pick")) pick(button);
    else if (button.matches("[data-next]")) show(here + 1);
    else if (button.matches("[data-others]")) {
      const open = button.getAttribute("aria-expanded") !== "true";
      button.setAttribute("aria-expanded", String(open));
      for (const said of button.closest(".question").querySelectorAll(".pick-said:not([role=status])")) said.hidden = !open;
    }
  });
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || here >= questions.length || document.querySelector("dialog[open]")) return;
    const picks = picksOf(questions[here]);
    if (/^[1-6]$/.test(event.key) && picks[event.key - 1]) { event.preventDefault(); pick(picks[event.key - 1]); }
    else if (event.key === "Enter" && questions[here].dataset.said && !event.target.closest("a, button")) { event.preventDefault(); show(here + 1); }
  });
  window.addEventListener("online", send);
  setInterval(send, EVERY_MS);
  begin();
})();
