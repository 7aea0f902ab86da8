// Small formats and fresh ids.

/** A fresh id, as the server makes them. */
export function newId() {
  const letters = "abcdefghijkmnpqrstuvwxyz23456789";
  return Array.from(crypto.getRandomValues(new Uint8Array(10)), (byte) => letters[byte % 32]).join("");
}

/** A number without needless zeros. */
export function trim(value, decimals = 3) {
  return String(Number(value.toFixed(decimals)));
}

export const fps = (rate) => trim(rate.num / rate.den, 3);

export function seconds(value) {
  return `${trim(value, 2)} s`;
}

export function megabytes(bytes) {
  return bytes > 1e6 ? `${trim(bytes / 1e6, 1)} MB` : `${Math.max(1, Math.round(bytes / 1e3))} kB`;
}

export function ago(iso) {
  const passed = (Date.now() - new Date(iso).getTime()) / 1000;
  if (passed < 60) return "just now";
  if (passed < 3600) return `${Math.floor(passed / 60)} min ago`;
  if (passed < 86400) return `${Math.floor(passed / 3600)} h ago`;
  return new Date(iso).toLocaleDateString();
}

/** Non-drop timecode mm:ss:ff of a frame number, with hours where there are some. */
export function timecode(frame, rate) {
  const nominal = Math.round(rate.num / rate.den);
  const two = (value) => String(value).padStart(2, "0");
  const whole = Math.floor(frame / nominal);
  const short = `${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}:${two(frame % nominal)}`;
  return whole >= 3600 ? `${two(Math.floor(whole / 3600))}:${short}` : short;
}

/** What this browser was told to remember, or something else. */
export const remembered = (name, fallback) => {
  try {
    return JSON.parse(localStorage.getItem(name)) ?? fallback;
  } catch {
    return fallback;
  }
};

/** Does something once the page has shown what was done before: what a hand did is seen at once, and what
 *  tells more of it follows. */
export const afterPaint = (deed) => requestAnimationFrame(() => setTimeout(deed));

/** A deed that is done once after the page has shown what led to it, however often it is asked for. */
export function soon(deed) {
  let waiting = false;
  return () => {
    if (waiting) return;
    waiting = true;
    afterPaint(() => {
      waiting = false;
      deed();
    });
  };
}
