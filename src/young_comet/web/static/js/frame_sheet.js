// The sheet that asks for a scene's name, frame, rate and length; for new and existing scenes.
import { Alpine } from "./common.js";
import { fps, newId, trim } from "./formats.js";
import { sentence } from "./notes.js";
import { api } from "./api.js";

const DEFAULT = { width: 1920, height: 1080, rate: { num: 25, den: 1 }, length: "6s" };

Alpine.data("frameSheet", () => ({
  presets: [],
  rates: [],
  title: "",
  action: "",
  existing: null,
  name: "",
  width: "",
  height: "",
  length: "",
  // Not `rate`: a loop's variable of that name would hide it.
  chosenRate: DEFAULT.rate,
  arrange: "keep-centred",
  problem: "",
  detail: null,

  async init() {
    const catalog = await api.catalog();
    this.presets = catalog.frames.map((frame) => ({ ...frame, size: `${frame.width}×${frame.height}` }));
    this.rates = catalog.rates;
  },
  get isOdd() {
    return Number(this.width) % 2 === 1 || Number(this.height) % 2 === 1;
  },
  isPreset(preset) {
    return preset.width === Number(this.width) && preset.height === Number(this.height);
  },
  isRate(rate) {
    return rate.num === this.chosenRate.num && rate.den === this.chosenRate.den;
  },
  choosePreset(preset) {
    this.width = String(preset.width);
    this.height = String(preset.height);
  },
  chooseRate(rate) {
    this.chosenRate = { num: rate.num, den: rate.den };
  },
  /** `detail`: { scene or null, name, width, height, save(edits) }. */
  open(detail) {
    this.detail = detail;
    this.existing = detail.scene;
    const from = detail.scene || { ...DEFAULT, ...detail };
    this.title = detail.scene ? "Name and frame" : "New scene";
    this.action = detail.scene ? "Change" : "Create";
    this.name = detail.scene ? detail.scene.name : detail.name || "";
    this.width = String(from.width);
    this.height = String(from.height);
    this.chosenRate = { ...from.rate };
    this.length = detail.scene ? `${trim(detail.scene.length_s)}s` : DEFAULT.length;
    this.arrange = "keep-centred";
    this.problem = "";
    this.$refs.frameSheet.showModal();
    const name = this.$refs.frameSheet.querySelector("#frame-name");
    name.value = this.name; // at once, for whoever types at once
    name.focus();
    name.select();
  },
  close() {
    this.$refs.frameSheet.close();
  },
  async save() {
    try {
      const size = [this.width, this.height].map((text) => Number(text));
      if (size.some((side) => !Number.isInteger(side) || side < 16 || side > 8192)) {
        throw new Error("The size must be two whole numbers from 16 to 8192.");
      }
      const { value } = await api.parseTime(this.length, this.chosenRate, 0);
      if (!(value > 0 && value <= 3600)) {
        throw new Error("The length must lie between one frame and an hour.");
      }
      await this.detail.save(this.edit(size, value));
      this.close();
    } catch (error) {
      this.problem = sentence(error.message);
    }
  },
  edit(size, length_s) {
    const frame = { width: size[0], height: size[1], rate: this.chosenRate, length_s };
    const name = this.name.trim();
    if (!this.existing) {
      return { kind: "add-scene", scene: { id: newId(), name, ground: "#17181d", ...frame } };
    }
    const edits = [];
    const old = this.existing;
    if (name !== old.name) edits.push({ kind: "change-scene", scene: old.id, name });
    const same = old.width === size[0] && old.height === size[1] && fps(old.rate) === fps(this.chosenRate);
    if (!same || Math.abs(old.length_s - length_s) > 1e-6) {
      edits.push({ kind: "change-frame", scene: old.id, arrange: this.arrange, ...frame });
    }
    if (edits.length === 0) return null;
    return edits.length === 1 ? edits[0] : { kind: "together", title: `Change ${name}`, edits };
  },
}));
