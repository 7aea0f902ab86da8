// The small meter beside the transport, and the switch that lets the scene be heard or not.
import { Alpine } from "../common.js";

const FLOOR_DB = -48;
// A peak stays for so long, then falls by so much a second.
const HOLD_MS = 900;
const FALL_DB = 20;

const decibels = (level) => Math.max(FLOOR_DB, 20 * Math.log10(Math.max(level, 1e-6)));
const share = (db) => Math.min(1, (db - FLOOR_DB) / -FLOOR_DB);

export function registerListening(editor, sounding) {
  Alpine.data("listening", () => ({
    heard: false,
    muted: sounding.muted,
    clipped: false,
    init() {
      editor.on("heard", () => (this.heard = sounding.heard));
      editor.on("sounding", () => this.watch());
      this.peaks = [
        { db: FLOOR_DB, at: 0 },
        { db: FLOOR_DB, at: 0 },
      ];
    },
    get title() {
      return this.muted ? "Let it be heard" : "Switch the sound off here";
    },
    toggle() {
      this.muted = !this.muted;
      sounding.mute(this.muted);
    },
    forget() {
      this.clipped = false;
    },
    /** Draws as long as something may be heard. */
    watch() {
      this.until = performance.now() + 2500;
      if (this.watching || !sounding.context) return;
      this.watching = true;
      const samples = new Float32Array(2048);
      let before = performance.now();
      const draw = () => {
        const now = performance.now();
        const levels = sounding.meters.map((meter, side) => {
          meter.getFloatTimeDomainData(samples);
          let most = 0;
          for (const value of samples) most = Math.max(most, Math.abs(value));
          if (most > 1) this.clipped = true;
          const db = decibels(most);
          const peak = this.peaks[side];
          if (db >= peak.db) Object.assign(peak, { db, at: now });
          else if (now - peak.at > HOLD_MS) {
            peak.db = Math.max(db, peak.db - ((now - before) / 1000) * FALL_DB);
          }
          return db;
        });
        before = now;
        this.paint(levels);
        if (editor.isPlaying?.() || now < this.until) requestAnimationFrame(draw);
        else this.watching = false;
      };
      requestAnimationFrame(draw);
    },
    paint(levels) {
      const canvas = this.$refs.meter;
      const context = canvas.getContext("2d");
      const { width, height } = canvas;
      const style = getComputedStyle(canvas);
      const colour = (name) => style.getPropertyValue(name);
      context.clearRect(0, 0, width, height);
      const wide = (width - 4) / 2;
      levels.forEach((db, side) => {
        const x = side * (wide + 4);
        context.fillStyle = colour("--meter-back");
        context.fillRect(x, 0, wide, height);
        for (const [from, to, name] of [
          [FLOOR_DB, -12, "--moss"],
          [-12, -3, "--amber"],
          [-3, 0, "--rose"],
        ]) {
          if (db <= from) continue;
          const low = share(from) * height;
          const high = share(Math.min(db, to)) * height;
          context.fillStyle = colour(name);
          context.fillRect(x, height - high, wide, high - low);
        }
        context.fillStyle = colour("--text");
        context.fillRect(x, Math.min(height - 2, height - share(this.peaks[side].db) * height), wide, 2);
      });
    },
  }));
}
