// The one module that talks to the server.

/** An answer that says what was wrong; `field` names the place in the document. */
class ApiError extends Error {
  constructor(status, message, field) {
    super(message);
    this.status = status;
    this.field = field;
  }
}

async function request(method, path, body) {
  const options = { method, headers: {} };
  if (body !== undefined) {
    options.body = JSON.stringify(body);
    options.headers["content-type"] = "application/json";
  }
  let response;
  try {
    response = await fetch(path, options);
  } catch {
    throw new ApiError(0, "The server does not answer. Is it still running?", "");
  }
  return unpack(response);
}

/** The bytes of an answer. */
async function binary(path) {
  const response = await fetch(path).catch(() => null);
  if (!response) throw new ApiError(0, "The server does not answer. Is it still running?", "");
  if (!response.ok) return unpack(response);
  return response.arrayBuffer();
}

async function unpack(response) {
  if (response.status === 204) return null;
  const data = await response.json().catch(() => null);
  if (!response.ok) {
    const error = (data && data.error) || {};
    throw new ApiError(
      response.status,
      error.message || `The server answered ${response.status}`,
      error.field || "",
    );
  }
  return data;
}

const q = (values) => new URLSearchParams(values).toString();

export const api = {
  catalog: () => request("GET", "/api/catalog"),
  projects: () => request("GET", "/api/projects"),
  project: (id) => request("GET", `/api/projects/${id}`),
  createProject: (name) => request("POST", "/api/projects", { name }),
  tour: () => request("POST", "/api/projects/tour"),
  duplicateProject: (id) => request("POST", `/api/projects/${id}/duplicate`),
  deleteProject: (id) => request("DELETE", `/api/projects/${id}`),
  mendProject: (id) => request("POST", `/api/projects/${id}/mend`),
  missing: (id) => request("GET", `/api/projects/${id}/missing`),
  findAgain: (id, asset, file, another) =>
    send(`/api/projects/${id}/assets/${asset}/file?${q({ name: file.name, another })}`, file),
  restoreProject: (id) => request("POST", `/api/projects/${id}/restore`),
  exportUrl: (id) => `/api/projects/${id}/export`,
  edit: (id, edit, revision) =>
    request("POST", `/api/projects/${id}/edits`, { edit, base_revision: revision ?? null }),
  undo: (id) => request("POST", `/api/projects/${id}/undo`),
  redo: (id) => request("POST", `/api/projects/${id}/redo`),
  steps: (project) => request("GET", `/api/projects/${project}/steps`),
  history: (id) => request("GET", `/api/projects/${id}/history`),
  parseNumber: (text, units) => request("POST", "/api/parse", { kind: "number", text, units }),
  parseTime: (text, rate, now_s) =>
    request("POST", "/api/parse", { kind: "time", text, rate_num: rate.num, rate_den: rate.den, now_s }),
  easing: (easing, duration_s) => request("POST", "/api/easing", { easing, duration_s }),
  expression: (id, scene, asked) => request("POST", `/api/projects/${id}/scenes/${scene}/expression`, asked),
  toneCurve: (points) => request("POST", "/api/tone-curve", { points }),
  shapes: (id, asset) => request("GET", `/api/projects/${id}/assets/${asset}/shapes`),
  ownMoveSample: (id, move, revision) => `/api/projects/${id}/moves/${move}/sample.jpg?${q({ r: revision })}`,
  sharedMoveSample: (move) => `/api/own-moves/${move}/sample.jpg`,
  ownMoves: () => request("GET", "/api/own-moves"),
  shareMove: (id, move) => request("POST", `/api/projects/${id}/moves/${move}/share`, {}),
  forgetMove: (move) => request("POST", "/api/own-moves/remove", { move }),
  moveSample: (kind) => `/api/moves/${kind}/sample.jpg`,
  effectSample: (kind) => `/api/effects/${kind}/sample.jpg`,
  readColour: (text) => request("GET", `/api/colours?text=${encodeURIComponent(text)}`),
  contrast: (id, scene, layer, time, colour) => {
    const asked = new URLSearchParams({ layer, time_s: time, colour });
    return request("GET", `/api/projects/${id}/scenes/${scene}/contrast?${asked}`);
  },
  costs: (id, scene, time, height) =>
    request("GET", `/api/projects/${id}/scenes/${scene}/costs?time_s=${time}&height=${height || 1080}`),
  palette: (id, asset) => request("GET", `/api/projects/${id}/assets/${asset}/palette`),
  colour: (id, scene, time_s, x, y, before) =>
    request("GET", `/api/projects/${id}/scenes/${scene}/colour?${q({ time_s, x, y, ...(before ?? {}) })}`),
  pick: (id, scene, time_s, x, y, reach) =>
    request("GET", `/api/projects/${id}/scenes/${scene}/pick?${q({ time_s, x, y, reach })}`),
  settingSample: ({ project, scene, layer, effect, setting }, asked) =>
    `/api/projects/${project}/scenes/${scene}/layers/${layer}/effects/${effect}/${setting}.jpg?${q(asked)}`,
  wornSample: ({ project, scene, layer }, asked) =>
    `/api/projects/${project}/scenes/${scene}/layers/${layer}/worn.jpg?${q(asked)}`,
  /** A frame as a picture: as it is, or as it was at a `step` of the history; without a time that at which
   *  the most of the scene stands. */
  frameUrl: (id, scene, time_s, height, revision, step) => {
    const when = time_s === null ? {} : { time_s };
    const asked = { ...when, height, r: revision, ...(step === undefined ? {} : { step }) };
    return `/api/projects/${id}/scenes/${scene}/frame.jpg?${q(asked)}`;
  },
  keptUrl: (id, scene) => `/api/projects/${id}/scenes/${scene}/kept.jpg`,
  stripUrl: (id, scene, count, height, revision) =>
    `/api/projects/${id}/scenes/${scene}/strip.jpg?${q({ count, height, r: revision })}`,
  thumbnailUrl: (hash) => `/api/assets/${hash}/thumbnail`,
  sound: (project, scene) => request("GET", `/api/projects/${project}/scenes/${scene}/sound`),
  samples: (project, scene, first, count) =>
    binary(`/api/projects/${project}/scenes/${scene}/sound.pcm?first=${first}&count=${count}`),
  wave: (project, scene, layer, from, to, columns) => {
    const query = `from_s=${from}&to_s=${to}&columns=${columns}`;
    return request("GET", `/api/projects/${project}/scenes/${scene}/layers/${layer}/wave?${query}`);
  },
  kit: () => request("GET", "/api/kit"),
  kitUrl: (sound, wish) => `/api/kit/${sound}.flac?${new URLSearchParams(wish)}`,
  takeFromKit: (project, taken) => request("POST", `/api/projects/${project}/kit`, taken),
  renders: () => request("GET", "/api/renders"),
  startRender: (project, scene, settings) => request("POST", "/api/renders", { project, scene, settings }),
  planRender: (project, scene, settings) =>
    request("POST", "/api/renders/plan", { project, scene, settings }),
  beats: (project, scene) => request("GET", `/api/projects/${project}/scenes/${scene}/beats`),
  findBeats: (project, asset) => request("POST", `/api/projects/${project}/assets/${asset}/beats`),
  loudness: (project, scene) => request("GET", `/api/projects/${project}/scenes/${scene}/loudness`),
  cancelRender: (id) => request("POST", `/api/renders/${id}/cancel`),
  renderAgain: (id, gaps) => request("POST", `/api/renders/${id}/again`, gaps ? { gaps } : {}),
  renameRender: (id, name) => request("PATCH", `/api/renders/${id}`, { name }),
  removeRender: (id) => request("DELETE", `/api/renders/${id}`),
  transitionSample: ({ project, scene, layer, kind }, asked) =>
    `/api/projects/${project}/scenes/${scene}/layers/${layer}/transitions/${kind}.jpg?${q(asked)}`,
  passageSample: (passage) => `/api/passages/${passage}/sample.jpg`,
  frontSample: (ready) => `/api/fronts/${ready}/sample.jpg`,
  typefaces: (project, asked = {}) => request("GET", `/api/projects/${project}/typefaces?${q(asked)}`),
  phrases: (blob) => send("/api/phrases", blob),
  upload: (id, file) => send(`/api/projects/${id}/assets?${q({ name: file.name })}`, file),
  importProject: (file, mend = false) => send(`/api/projects/import?${q({ mend })}`, file),
};

async function send(path, file) {
  const headers = { "content-type": "application/octet-stream" };
  let response;
  try {
    response = await fetch(path, { method: "POST", body: file, headers });
  } catch {
    throw new ApiError(0, "The server does not answer. Is it still running?", "");
  }
  return unpack(response);
}

/** A WebSocket that comes back by itself; `onMessage(header, picture or null)`: a picture is a
 *  JPEG blob, or ImageData where the header says `raw`. */
export class Live {
  constructor(path, { onMessage, onOpen, onLost }) {
    this.path = path;
    this.handlers = { onMessage, onOpen, onLost };
    this.waitMs = 300;
    this.connect();
  }

  connect() {
    const scheme = location.protocol === "https:" ? "wss" : "ws";
    this.socket = new WebSocket(`${scheme}://${location.host}${this.path}`);
    this.socket.binaryType = "arraybuffer";
    this.socket.onopen = () => {
      this.waitMs = 300;
      this.handlers.onOpen?.();
    };
    this.socket.onmessage = (event) => this.receive(event.data);
    this.socket.onclose = () => {
      this.handlers.onLost?.();
      setTimeout(() => this.connect(), this.waitMs);
      this.waitMs = Math.min(4000, this.waitMs * 1.7);
    };
  }

  get open() {
    return this.socket.readyState === WebSocket.OPEN;
  }

  send(message) {
    if (this.open) this.socket.send(JSON.stringify(message));
    return this.open;
  }

  receive(data) {
    if (typeof data === "string") {
      this.handlers.onMessage(JSON.parse(data), null);
      return;
    }
    const length = new DataView(data).getUint32(0);
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length)));
    const picture = header.raw
      ? new ImageData(new Uint8ClampedArray(data, 4 + length), header.raw[0], header.raw[1])
      : new Blob([new Uint8Array(data, 4 + length)], { type: "image/jpeg" });
    this.handlers.onMessage(header, picture);
  }
}
