// When the server cannot be reached or breaks, say so; what was typed stays where it is.
(() => {
  function say(words) {
    const place = document.getElementById("trouble");
    const line = document.createElement("p");
    line.textContent = words;
    place.replaceChildren(line);
  }
  document.addEventListener("htmx:sendError", () => say("The server cannot be reached. What you typed is still here: try again in a moment."));
  document.addEventListener("htmx:responseError", (event) => {
    const status = event.detail.xhr.status;
    if (status === 403) say("You are not signed in any more, or this page is old. Reload it and try again.");
    else if (status === 404) say("That is not there any more. Reload the page.");
    else if (status === 507) say("The disk of the server is full: nothing was written. What you typed is still here: tell whoever runs this.");
    else say("The server could not do that. What you typed is still here: try again.");
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    if (event.detail.successful) document.getElementById("trouble").replaceChildren();
  });
})();
