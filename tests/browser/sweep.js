// What is wrong with the screen as it is drawn now, in words. Run in the page; `arguments`: what is asked of it.
const { touch, button, axe: rules } = arguments[0];
const found = [];
const say = (what, element, more = "") => found.push(`${what}: ${named(element)}${more && ` (${more})`}`);
const [wide, high] = [innerWidth, innerHeight];
// As somebody finds it: at its beginning.
document.activeElement?.blur();
document.querySelectorAll("*").forEach((e) => e.scrollTop && (e.scrollTop = 0));

function named(element) {
  const words = (element.getAttribute?.("aria-label") || element.textContent || "")
    .trim()
    .replace(/\s+/g, " ");
  return `<${element.tagName.toLowerCase()}> '${words.slice(0, 50)}'`;
}
function drawn(element) {
  return element.checkVisibility({
    opacityProperty: true,
    visibilityProperty: true,
    contentVisibilityAuto: true,
  });
}
const hidden = (element) => {
  for (let e = element; e; e = e.parentElement) {
    const style = getComputedStyle(e);
    if (style.clipPath !== "none" || style.clip !== "auto") return true;
  }
  return false;
};
/** Where it can be seen: cut to every ancestor that hides or scrolls what goes beyond it. */
function seen(rect, element) {
  let { left, top, right, bottom } = rect;
  for (let e = element; e && e !== document.documentElement; e = e.parentElement) {
    const style = getComputedStyle(e);
    if (style.position === "fixed") break;
    if (style.overflowX === "visible" && style.overflowY === "visible") continue;
    const box = e.getBoundingClientRect();
    [left, top, right, bottom] = [
      Math.max(left, box.left),
      Math.max(top, box.top),
      Math.min(right, box.right),
      Math.min(bottom, box.bottom),
    ];
  }
  return { left, top, right, bottom, empty: right - left < 2 || bottom - top < 2 };
}
const modal = document.querySelector(".MuiDialog-root, .MuiMenu-root");
const scope = modal ?? document.body;

// Text: none under 12 px, none cut, none on other text.
const texts = [];
const walker = document.createTreeWalker(scope, NodeFilter.SHOW_TEXT);
while (walker.nextNode()) {
  const node = walker.currentNode;
  const element = node.parentElement;
  if (
    !node.textContent.trim() ||
    ["SCRIPT", "STYLE", "NOSCRIPT", "TITLE", "TEXTAREA"].includes(element.tagName)
  )
    continue;
  if (!drawn(element) || hidden(element)) continue;
  const range = document.createRange();
  range.selectNodeContents(node);
  const rects = [...range.getClientRects()].filter((r) => r.width > 1 && r.height > 1);
  if (rects.length === 0) continue;
  const style = getComputedStyle(element);
  const turned = element.ownerSVGElement && element.getScreenCTM();
  const scale = turned ? Math.hypot(turned.a, turned.b) : 1;
  const size = parseFloat(style.fontSize) * scale;
  if (size < 11.9) say("under 12 px", element, `${size.toFixed(1)} px`);
  texts.push({ element, rects, size, text: node.textContent.trim() });
}
for (const { element, rects } of texts) {
  const picture = element.ownerSVGElement?.getBoundingClientRect();
  const beyond = picture && rects.some((r) => r.left < picture.left - 3 || r.right > picture.right + 3);
  if (beyond) say("beyond its picture", element);
  for (let e = element; e && e !== scope; e = e.parentElement) {
    const style = getComputedStyle(e);
    const clips = (over) => over === "hidden" || over === "clip";
    if (clips(style.overflowX) && e.scrollWidth > e.clientWidth + 1 && !e.hasAttribute("data-may-cut")) {
      say("cut", e, `${e.scrollWidth} px in ${e.clientWidth}`);
      break;
    }
    if (clips(style.overflowY) && e.scrollHeight > e.clientHeight + 2 && !e.hasAttribute("data-may-cut")) {
      say("cut below", e, `${e.scrollHeight} px in ${e.clientHeight}`);
      break;
    }
  }
}
const lines = texts.flatMap(({ element, rects, text, size }) =>
  rects.map((rect) => {
    const at = seen(rect, element);
    // Letters are smaller than their line.
    const inset = Math.min(rect.height * 0.22, size * 0.3);
    return { ...at, top: at.top + inset, bottom: at.bottom - inset, element, text };
  }),
);
const open = lines.filter(
  (l) => !l.empty && l.bottom > l.top && l.top < high && l.bottom > 0 && l.left < wide && l.right > 0,
);
open.sort((a, b) => a.top - b.top);
for (let i = 0; i < open.length; i += 1) {
  const a = open[i];
  for (let j = i + 1; j < open.length && open[j].top < a.bottom; j += 1) {
    const b = open[j];
    if (a.element === b.element) continue;
    const across = Math.min(a.right, b.right) - Math.max(a.left, b.left);
    const down = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
    if (across < 2 || down < 1.5) continue;
    // What lies behind something that covers it is not seen.
    const [x, y] = [Math.max(a.left, b.left) + across / 2, Math.max(a.top, b.top) + down / 2];
    if (covered(a.element, x, y) || covered(b.element, x, y)) continue;
    say("on each other", a.element, `and '${b.text.slice(0, 40)}'`);
  }
}
function opaque(e) {
  const colour = getComputedStyle(e).backgroundColor;
  return !/^rgba\(.*, 0\)$|^transparent$/.test(colour);
}
/** Whether something opaque that is not around it lies over it at a point. */
function covered(element, x, y) {
  for (const top of document.elementsFromPoint(x, y)) {
    if (top === element || element.contains(top) || top.contains(element)) return false;
    if (opaque(top)) return true;
  }
  return false;
}

// Scrolling: never the window, and never to nothing.
const page = document.scrollingElement;
if (page.scrollWidth > wide + 1) found.push(`the window scrolls sideways: ${page.scrollWidth} px in ${wide}`);
if (!modal && page.scrollHeight > high + 1)
  found.push(`the window scrolls: ${page.scrollHeight} px in ${high}`);
for (const e of scope.querySelectorAll("*")) {
  const style = getComputedStyle(e);
  if (!/auto|scroll/.test(style.overflowY) || e.scrollHeight <= e.clientHeight + 1 || !drawn(e)) continue;
  const box = e.getBoundingClientRect();
  let last = box.top;
  for (const inner of e.querySelectorAll("*")) {
    if (!drawn(inner) || hidden(inner) || (inner.children.length > 0 && !opaque(inner))) continue;
    last = Math.max(last, inner.getBoundingClientRect().bottom);
  }
  // What sticks to the lower edge stands at the end of all else.
  const sticky = [...e.children].filter((c) => getComputedStyle(c).position === "sticky");
  const stuck = sticky.reduce((sum, c) => sum + c.getBoundingClientRect().height, 0);
  const empty = e.scrollHeight - stuck - parseFloat(style.paddingBottom) - (last - box.top + e.scrollTop);
  if (empty > 60) say("scrolls to nothing", e, `${Math.round(empty)} px`);
}

// Targets.
const least = touch ? 44 : 24;
for (const e of scope.querySelectorAll(
  "button, a[href], input:not([type=file]), select, [role=slider], [role=tab], [role=combobox]",
)) {
  if (!drawn(e) || hidden(e) || e.disabled) continue;
  const target = e.matches("input") ? (e.closest("label, .MuiInputBase-root, .MuiButtonBase-root") ?? e) : e;
  const box = target.getBoundingClientRect();
  if (box.width === 0 || e.hasAttribute("data-why") || getComputedStyle(e).display === "inline") continue;
  if (box.height < least - 0.5 || box.width < Math.min(least, 24) - 0.5)
    say(`under ${least} px`, e, `${Math.round(box.width)} x ${Math.round(box.height)}`);
}

// What the person came to do.
if (button) {
  const all = [...scope.querySelectorAll("button, a")].filter(
    (e) => drawn(e) && e.textContent.trim().startsWith(button),
  );
  const there = all.some((e) => {
    const box = e.getBoundingClientRect();
    const top = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
    return box.bottom <= high && box.top >= 0 && top && (e === top || e.contains(top));
  });
  if (!there) found.push(`the main button is not in sight: ${button}`);
}

// Landmarks and headings.
if (!modal) {
  const mains = [...document.querySelectorAll("main, [role=main]")].filter(drawn);
  if (mains.length !== 1) found.push(`${mains.length} main landmarks`);
  const firsts = [...document.querySelectorAll("h1")].filter(drawn);
  if (firsts.length !== 1) found.push(`${firsts.length} first headings`);
  if (!/ · Keel Turn$/.test(document.title)) found.push(`the window is called '${document.title}'`);
}

// Focus: seen on every stop.
const stops = [...scope.querySelectorAll("button, a[href], input, textarea, select, [tabindex]")].filter(
  (e) =>
    e.tabIndex >= 0 &&
    !e.disabled &&
    drawn(e) &&
    e.getClientRects().length > 0 &&
    !e.closest("[aria-hidden=true]"),
);
const before = document.activeElement;
for (const e of stops) {
  e.focus({ preventScroll: false, focusVisible: true });
  if (document.activeElement !== e) continue;
  const rings = [
    e,
    e.parentElement,
    e.closest(".MuiInputBase-root"),
    e.closest("label"),
    ...e.querySelectorAll("circle, rect, path, fieldset"),
  ].filter(Boolean);
  const ringed = rings.some((r) => {
    const style = getComputedStyle(r);
    return style.outlineStyle !== "none" && parseFloat(style.outlineWidth) >= 2;
  });
  if (!ringed) say("focus is not seen", e);
  const box = e.getBoundingClientRect();
  const [x, y] = [box.left + box.width / 2, box.top + Math.min(box.height / 2, 20)];
  if (box.width > 4 && box.height > 4 && x > 0 && x < wide && y > 0 && y < high) {
    const top = document.elementFromPoint(x, y);
    if (top && top !== e && !e.contains(top) && !top.contains(e) && !e.closest("label")?.contains(top))
      say("focus is behind something", e, named(top));
  }
}
before?.focus?.();

const only = rules[0] === "all" ? {} : { runOnly: rules };
const once = [...new Set(found)];
const finish = arguments[arguments.length - 1];
// What was focused may have been chosen by it.
window
  .atRest()
  .then(() => rules.length > 0 ? axe.run(modal ?? document, only) : { violations: [] })
  .then((result) => {
    for (const v of result.violations)
      once.push(
        `axe ${v.id}: ${v.help} ${v.nodes
          .slice(0, 2)
          .map((n) => n.html.slice(0, 160))
          .join(" | ")}`,
      );
    finish(once);
  })
  .catch((error) => finish([...once, `axe could not look: ${error}`]));
