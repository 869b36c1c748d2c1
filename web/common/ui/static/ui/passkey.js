// Passkeys: the browser makes one, or shows one it has; what it says goes to the server, which checks it.
(() => {
  const bytes = (text) => Uint8Array.from(atob(text.replace(/-/g, "+").replace(/_/g, "/")), (one) => one.charCodeAt(0));
  const text = (buffer) => btoa(String.fromCharCode(...new Uint8Array(buffer))).replace(/\+/g, "-").replace(/\//g, "_").replace(/=+$/, "");
  const named = (list) => (list || []).map((one) => ({ ...one, id: bytes(one.id) }));

  async function send(address, form, more) {
    const body = new FormData(form);
    for (const [name, value] of Object.entries(more || {})) body.set(name, value);
    const response = await fetch(address, { method: "POST", body, credentials: "same-origin" });
    const told = await response.json();
    if (!response.ok) throw new Error(told.wrong);
    return told;
  }

  function answer(made) {
    const { response } = made, told = { clientDataJSON: text(response.clientDataJSON) };
    if (response.attestationObject) told.attestationObject = text(response.attestationObject);
    if (response.signature) Object.assign(told, { authenticatorData: text(response.authenticatorData), signature: text(response.signature), userHandle: response.userHandle ? text(response.userHandle) : undefined });
    return JSON.stringify({ id: made.id, rawId: text(made.rawId), type: made.type, response: told, clientExtensionResults: {} });
  }

  async function run(form) {
    const asked = await send(form.dataset.options, form);
    const publicKey = { ...asked, challenge: bytes(asked.challenge) };
    if (asked.user) Object.assign(publicKey, { user: { ...asked.user, id: bytes(asked.user.id) }, excludeCredentials: named(asked.excludeCredentials) });
    else publicKey.allowCredentials = named(asked.allowCredentials);
    const made = asked.user ? await navigator.credentials.create({ publicKey }) : await navigator.credentials.get({ publicKey });
    location.assign((await send(form.action, form, { answer: answer(made) })).to);
  }

  for (const form of document.querySelectorAll("[data-passkey]")) {
    if (!window.PublicKeyCredential) continue;
    form.hidden = false;
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      const wrong = form.querySelector("[role=alert]");
      wrong.textContent = "";
      run(form).catch((error) => { wrong.textContent = error.name === "Error" ? error.message : "The device made or showed no passkey. Try once more."; });
    });
  }
})();
