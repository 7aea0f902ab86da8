// Lints the page's modules: ESLint's rules, and what one module asks of another (its exports exist,
// and each of them is used). `linter.min.js` is eslint-linter-browserify 10.11.0, which is ESLint
// 10.11.0 in one file; it is shipped so that linting needs no registry.
//
//   node run.mjs ROOT      lints all .js below ROOT and ends with 1 where it finds anything
import { readFileSync, readdirSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";

const require = createRequire(import.meta.url);
const { Linter } = require("./linter.min.js");

const BROWSER = [
  "AnalyserNode", "Audio", "AudioBufferSourceNode", "AudioContext", "Blob", "CSS", "CustomEvent", "DOMPoint", "Event", "EventTarget", "FormData", "Image", "ImageData", "ResizeObserver",
  "TextDecoder", "URL", "URLSearchParams", "WebSocket", "Worker", "cancelAnimationFrame", "IntersectionObserver", "clearInterval", "clearTimeout", "console",
  "createImageBitmap", "crypto", "document", "fetch", "getComputedStyle", "localStorage", "location", "matchMedia", "navigator",
  "performance", "prompt",  "requestAnimationFrame", "sessionStorage", "setInterval", "setTimeout", "structuredClone", "window",
];

const RULES = {
  "max-len": ["error", { code: 110 }],
  complexity: ["error", 20],
  "max-lines": ["error", 500],
  "array-callback-return": "error",
  "consistent-return": "off",
  "constructor-super": "error",
  curly: ["error", "multi-line"],
  eqeqeq: "error",
  "for-direction": "error",
  "getter-return": "error",
  "no-async-promise-executor": "error",
  "no-class-assign": "error",
  "no-compare-neg-zero": "error",
  "no-cond-assign": "error",
  "no-const-assign": "error",
  "no-constant-binary-expression": "error",
  "no-constant-condition": "error",
  "no-dupe-class-members": "error",
  "no-dupe-else-if": "error",
  "no-dupe-keys": "error",
  "no-duplicate-case": "error",
  "no-duplicate-imports": "error",
  "no-empty": "error",
  "no-eval": "error",
  "no-fallthrough": "error",
  "no-func-assign": "error",
  "no-implicit-globals": "error",
  "no-import-assign": "error",
  "no-loss-of-precision": "error",
  "no-redeclare": "error",
  "no-self-assign": "error",
  "no-shadow": ["error", { allow: ["name", "event", "length", "top", "status", "close", "open", "find"] }],
  "no-this-before-super": "error",
  "no-undef": "error",
  "no-unreachable": "error",
  "no-unsafe-finally": "error",
  "no-unsafe-optional-chaining": "error",
  "no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_", ignoreRestSiblings: true }],
  "no-use-before-define": ["error", { functions: false, classes: false, variables: false }],
  "no-useless-rename": "error",
  "no-var": "error",
  "object-shorthand": "error",
  "prefer-const": "error",
  "prefer-template": "error",
  "use-isnan": "error",
  "valid-typeof": "error",
};

const CONFIG = [
  {
    languageOptions: {
      ecmaVersion: 2024,
      sourceType: "module",
      globals: Object.fromEntries(BROWSER.map((name) => [name, "readonly"])),
    },
    linterOptions: { reportUnusedDisableDirectives: "error" },
    rules: RULES,
  },
];

const root = path.resolve(process.argv[2]);
const files = readdirSync(root, { recursive: true }).filter((name) => name.endsWith(".js"));
const linter = new Linter();
const modules = new Map(); // path -> { exports, imports }
let found = 0;

function say(file, line, message) {
  found += 1;
  console.log(`${path.join(process.argv[2], file)}:${line}: ${message}`);
}

function namesOf(declaration) {
  if (declaration.id) return [declaration.id.name];
  return declaration.declarations.map((each) => each.id.name);
}

/** What a module gives and what it asks of others. */
function doors(ast) {
  const gives = new Map();
  const asks = [];
  for (const node of ast.body) {
    const { line } = node.loc.start;
    if (node.type === "ExportNamedDeclaration") {
      const own = node.declaration ? namesOf(node.declaration) : [];
      for (const name of [...own, ...node.specifiers.map((each) => each.exported.name)]) gives.set(name, line);
    }
    if (node.type !== "ImportDeclaration") continue;
    for (const each of node.specifiers) {
      if (each.type === "ImportSpecifier") asks.push({ from: node.source.value, name: each.imported.name, line });
      else asks.push({ from: node.source.value, name: "*", line });
    }
    if (!node.specifiers.length) asks.push({ from: node.source.value, name: "", line });
  }
  return { gives, asks };
}

for (const file of files) {
  const text = readFileSync(path.join(root, file), "utf8");
  for (const { line, message, ruleId } of linter.verify(text, CONFIG, { filename: file })) {
    say(file, line, `${message} (${ruleId || "syntax"})`);
  }
  const code = linter.getSourceCode();
  if (code) modules.set(file, doors(code.ast));
}

const used = new Set();
for (const [file, { asks }] of modules) {
  for (const { from, name, line } of asks) {
    const target = path.join(path.dirname(file), from);
    if (target.split(path.sep).some((part) => part === "vendor")) continue;
    if (target.startsWith("..")) continue; // shipped libraries beside the modules
    if (!modules.has(target)) say(file, line, `There is no module ${from}`);
    else if (name && name !== "*" && !modules.get(target).gives.has(name)) say(file, line, `${from} gives no ${name}`);
    if (name === "*") for (const each of modules.get(target)?.gives.keys() || []) used.add(`${target} ${each}`);
    used.add(`${target} ${name}`);
  }
}
// What only the tests ask for is named there.
const tests = process.argv.slice(3).map((name) => readFileSync(name, "utf8")).join("\n");
for (const [file, { gives }] of modules) {
  for (const [name, line] of gives) {
    if (!used.has(`${file} ${name}`) && !tests.includes(`"${name}"`)) say(file, line, `Nobody imports ${name}`);
  }
}
console.log(found ? `${found} found` : `${files.length} modules are fine`);
process.exit(found ? 1 : 0);
