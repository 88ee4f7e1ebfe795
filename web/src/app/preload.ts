/** What the page says is asked for later is asked for now: every part of the program has arrived, and while it starts
 *  the server would have nothing to do. */
for (const link of document.querySelectorAll<HTMLLinkElement>("link[rel=later]")) {
  link.rel = "preload";
}
