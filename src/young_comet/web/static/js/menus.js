// Menus by the keyboard, on every page: arrows, Home, End and letters go through an open menu, Enter
// presses, Escape closes it, and it alone, and the focus goes back to where it came from.

const isSeen = (element) => element.getClientRects().length > 0;
const openMenu = () => [...document.querySelectorAll(".menu")].filter(isSeen).at(-1) || null;
const itemsOf = (menu) =>
  [...menu.querySelectorAll("button:not(:disabled), a[href]")].filter((item) => isSeen(item));
const said = (item) => item.textContent.trim().toLowerCase();

// Where the focus was before a menu that is opened from anywhere.
let before = null;
// While a menu is asked for and not yet laid out: Escape is meant for it.
let coming = 0;
for (const name of ["open-layer-menu", "open-property"]) {
  window.addEventListener(name, () => {
    if (!document.activeElement?.closest(".menu")) before = document.activeElement;
    // The menu is laid out in a while; then its first line has the focus.
    coming = setTimeout(() => {
      coming = 0;
      focusFirst(openMenu());
    }, 30);
  });
}

function focusFirst(menu) {
  if (menu && !menu.contains(document.activeElement)) itemsOf(menu)[0]?.focus({ preventScroll: true });
}

function close(menu) {
  const toggle = menu.closest(".menu-holder")?.querySelector("[aria-expanded=true]");
  if (toggle) {
    toggle.click();
    toggle.focus();
    return;
  }
  menu.dispatchEvent(new CustomEvent("close-menu"));
  if (before?.isConnected) before.focus({ preventScroll: true });
  before = null;
}

/** The item that a key leads to, null where it leads to none. */
function led(menu, key) {
  const items = itemsOf(menu);
  const at = items.indexOf(document.activeElement);
  const last = items.length - 1;
  if (key === "ArrowDown") return items[at >= last ? 0 : at + 1];
  if (key === "ArrowUp") return items[at <= 0 ? last : at - 1];
  if (key === "Home") return items[0];
  if (key === "End") return items[last];
  if (key.length !== 1 || key === " ") return null;
  const turned = [...items.slice(at + 1), ...items.slice(0, at + 1)];
  return turned.find((item) => said(item).startsWith(key.toLowerCase())) || null;
}

window.addEventListener(
  "keydown",
  (event) => {
    const menu = openMenu();
    if (!menu && coming && event.key === "Escape") {
      const close = new CustomEvent("close-menu");
      for (const each of document.querySelectorAll(".menu")) each.dispatchEvent(close);
      event.preventDefault();
      event.stopImmediatePropagation();
      return;
    }
    if (!menu || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.matches?.("input, textarea, select")) return;
    if (event.key === "Escape" || event.key === "Tab") close(menu);
    else {
      const next = led(menu, event.key);
      if (!next && !["Enter", " "].includes(event.key)) return;
      next?.focus({ preventScroll: false });
      if (!next) {
        event.stopImmediatePropagation(); // Enter and Space press what has the focus, and nothing else
        return;
      }
    }
    event.preventDefault();
    event.stopImmediatePropagation();
  },
  true,
);
