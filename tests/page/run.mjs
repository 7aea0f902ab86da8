// Calls functions of the page's modules as the tests ask: JSON on stdin, JSON on stdout.
// `made` is the object whose methods are called: { module, name, args } of its class; null calls what the modules export.
import { readFileSync } from "node:fs";
import { pathToFileURL } from "node:url";

const { made, calls } = JSON.parse(readFileSync(0, "utf8"));
const load = (module) => import(pathToFileURL(module));
const object = made && new (await load(made.module))[made.name](...made.args);
const results = [];
for (const { module, name, args } of calls) {
  try {
    const value = (object || (await load(module)))[name](...args);
    results.push({ value: value === undefined ? null : value, args });
  } catch (error) {
    results.push({ error: String(error.message) });
  }
}
console.log(JSON.stringify(results));
