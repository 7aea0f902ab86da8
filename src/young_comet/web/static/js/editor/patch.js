// JSON Patch (RFC 6902) on the page's copy of the document.

const unescape = (token) => token.replace(/~1/g, "/").replace(/~0/g, "~");

function place(root, path) {
  const tokens = path.split("/").slice(1).map(unescape);
  const last = tokens.pop();
  const parent = tokens.reduce((node, token) => node[token], root);
  return { parent, key: Array.isArray(parent) && last !== "-" ? Number(last) : last };
}

function take(root, path) {
  const { parent, key } = place(root, path);
  if (Array.isArray(parent)) return parent.splice(key, 1)[0];
  const value = parent[key];
  delete parent[key];
  return value;
}

function put(root, path, value) {
  const { parent, key } = place(root, path);
  if (Array.isArray(parent)) parent.splice(key === "-" ? parent.length : key, 0, value);
  else parent[key] = value;
}

/** Changes the document in place; the server only sends add, remove, replace and move. */
export function applyPatch(root, patch) {
  for (const step of patch) {
    if (step.op === "add") put(root, step.path, step.value);
    else if (step.op === "remove") take(root, step.path);
    else if (step.op === "move") put(root, step.path, take(root, step.from));
    else if (step.op === "replace") {
      const { parent, key } = place(root, step.path);
      parent[key] = step.value;
    } else throw new Error(`unknown patch step ${step.op}`);
  }
}
