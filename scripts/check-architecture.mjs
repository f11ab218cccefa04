#!/usr/bin/env node
// Holds the Rust crates to docs/architecture.md: arrows between crates run downward, files of a crate stand in no
// circle, a folder's face holds no code, SQL and transactions have one room each, what is pure stays pure, and no two
// types share a name in the interface's description. Says which files break what; the browser's side has its own
// rules in web/.dependency-cruiser.mjs.
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Floors of the house, from the ground; a crate takes from lower floors alone. */
const FLOORS = [['spc', 'formats'], ['quality'], ['store', 'intake'], ['devices', 'server'], ['nuvek']];
/** No clock, no chance, no disk, no network. */
const PURE = ['spc', 'quality', 'formats', 'intake'];
/** The one place where a transaction that changes something begins, and where the trail's own do; a site that is taken in
 * brings its trail along. */
const BEGINS = ['crates/store/src/act.rs', 'crates/store/src/trail/state.rs', 'crates/store/src/archive/take_in.rs'];

const broken = [];
const breaks = (rule, ...files) => broken.push(`${rule}\n${files.map((file) => `    ${file}`).join('\n')}`);
const shown = (file) => relative(root, file);

/** Code without comments, texts and the tests at the end of a file. */
function bare(source) {
  const parts = /\/\/.*|\/\*[\s\S]*?\*\/|\br(#*)"[\s\S]*?"\1|"(?:\\[\s\S]|[^"\\])*"|'(?:\\.[^']*|[^'\\\n])'/g;
  const code = source.replace(parts, (part) => (part.startsWith('/') ? '' : '""'));
  const tests = code.search(/^#\[cfg\((test|doctest)\)\]/m);
  return tests < 0 ? code : code.slice(0, tests);
}

/** `a::{b, c::{self, d as e}}` as [path, name] pairs. */
function leaves(tree, before = []) {
  const text = tree.trim();
  const brace = text.indexOf('{');
  if (brace < 0) {
    const [path, alias] = text.split(/\s+as\s+/);
    const parts = [
      ...before,
      ...path
        .split('::')
        .map((part) => part.trim())
        .filter(Boolean),
    ];
    if (parts.at(-1) === 'self') parts.pop();
    return [[parts, (alias ?? parts.at(-1)).trim()]];
  }
  const prefix = [
    ...before,
    ...text
      .slice(0, brace)
      .split('::')
      .map((part) => part.trim())
      .filter(Boolean),
  ];
  const inner = text.slice(brace + 1, text.lastIndexOf('}'));
  const found = [];
  let depth = 0;
  let from = 0;
  for (let i = 0; i <= inner.length; i += 1) {
    if (inner[i] === '{') depth += 1;
    if (inner[i] === '}') depth -= 1;
    if (i === inner.length || (inner[i] === ',' && depth === 0)) {
      if (inner.slice(from, i).trim() !== '') found.push(...leaves(inner.slice(from, i), prefix));
      from = i + 1;
    }
  }
  return found;
}

/** Every module of a crate by its path, from its root file on. */
function modules(file, path = [], found = new Map()) {
  const code = bare(readFileSync(file, 'utf8'));
  const module = { file, path, code, children: new Map(), handsOut: new Map(), takes: [] };
  found.set(path.join('::'), module);
  const folder = /\/(lib|main|mod)\.rs$/.test(file) ? dirname(file) : file.replace(/\.rs$/, '');
  for (const [, name] of code.matchAll(/^\s*(?:pub(?:\([^)]*\))?\s+)?mod\s+(\w+)\s*;/gm)) {
    const child = [join(folder, `${name}.rs`), join(folder, name, 'mod.rs')].find(existsSync);
    module.children.set(name, [...path, name].join('::'));
    modules(child, [...path, name], found);
  }
  for (const [, reach, tree] of code.matchAll(/^\s*(pub(?:\([^)]*\))?\s+)?use\s+([^;]+);/gm)) {
    for (const [parts, name] of leaves(tree)) {
      if (reach === undefined) module.takes.push([parts, name]);
      else module.handsOut.set(name, parts);
    }
  }
  return found;
}

/** The module that a path of names, seen from `module`, ends in; nothing for other crates. */
function resolve(all, module, parts, depth = 0) {
  let [head, ...rest] = parts;
  let at = module;
  if (head === 'crate') at = all.get('');
  else if (head === 'self') at = module;
  else if (head === 'super') at = all.get(module.path.slice(0, -1).join('::'));
  else if (module.children.has(head)) rest = parts;
  else return undefined;
  for (const [i, name] of rest.entries()) {
    if (name === 'super') at = all.get(at.path.slice(0, -1).join('::'));
    else if (at.children.has(name)) at = all.get(at.children.get(name));
    else if (at.handsOut.has(name) && depth < 8)
      return resolve(all, at, [...at.handsOut.get(name), ...rest.slice(i + 1)], depth + 1) ?? at;
    else return at;
  }
  return at;
}

/** Files that a module's code takes something from. */
function taken(all, module) {
  const files = new Set();
  const names = new Map();
  for (const [parts, name] of module.takes) {
    names.set(name, parts);
    const from = resolve(all, module, parts);
    if (from) files.add(from.file);
  }
  const body = module.code.replace(/^\s*(?:pub(?:\([^)]*\))?\s+)?use\s+[^;]+;/gm, '');
  for (const [path] of body.matchAll(/(?<![\w:])[a-z_]\w*(?:::\w+)+/g)) {
    const parts = path.split('::');
    const from = resolve(all, module, names.has(parts[0]) ? [...names.get(parts[0]), ...parts.slice(1)] : parts);
    if (from) files.add(from.file);
  }
  files.delete(module.file);
  return files;
}

/** Sets of files that can all reach each other. */
function circles(arrows) {
  const number = new Map();
  const low = new Map();
  const stack = [];
  const found = [];
  const visit = (file) => {
    number.set(file, number.size);
    low.set(file, number.get(file));
    stack.push(file);
    for (const next of arrows.get(file) ?? []) {
      if (!number.has(next)) visit(next);
      if (stack.includes(next)) low.set(file, Math.min(low.get(file), low.get(next)));
    }
    if (low.get(file) === number.get(file)) {
      const circle = stack.splice(stack.indexOf(file));
      if (circle.length > 1) found.push(circle);
    }
  };
  for (const file of arrows.keys()) if (!number.has(file)) visit(file);
  return found;
}

const crates = readdirSync(join(root, 'crates'));
const schemas = new Map();
for (const crate of crates) {
  const floor = FLOORS.findIndex((floor) => floor.includes(crate));
  if (floor < 0) breaks(`The crate ${crate} has no floor in this script`, `crates/${crate}`);
  const manifest = readFileSync(join(root, 'crates', crate, 'Cargo.toml'), 'utf8');
  const dependencies = manifest.split(/^\[dependencies\]$/m)[1]?.split(/^\[/m)[0] ?? '';
  for (const [, name] of dependencies.matchAll(/^([\w-]+)\s*=/gm)) {
    const other = FLOORS.findIndex((floor) => floor.includes(name));
    if (other >= floor)
      breaks(`The crate ${crate} must not depend on ${name}: arrows run downward`, `crates/${crate}/Cargo.toml`);
  }
  const source = join(root, 'crates', crate, 'src');
  const all = new Map();
  for (const top of ['lib.rs', 'main.rs']) if (existsSync(join(source, top))) modules(join(source, top), [], all);
  const arrows = new Map([...all.values()].map((module) => [module.file, taken(all, module)]));
  for (const circle of circles(arrows)) {
    const ties = circle.flatMap((file) =>
      [...arrows.get(file)].filter((to) => circle.includes(to)).map((to) => `${shown(file)} takes from ${shown(to)}`),
    );
    breaks('These files stand in a circle', ...ties);
  }
  // The rooms of a crate: its top folders and files, but for the root, which hands everything out.
  const room = (file) => relative(source, file).replace(/\.rs$/, '').split('/')[0];
  const rooms = new Map();
  for (const [file, to] of arrows) {
    if (/^(lib|main)$/.test(room(file))) continue;
    const others = [...to].map(room).filter((other) => other !== room(file) && !/^(lib|main)$/.test(other));
    rooms.set(room(file), new Set([...(rooms.get(room(file)) ?? []), ...others]));
  }
  for (const circle of circles(rooms)) {
    const within = (file) => circle.includes(room(file));
    const ties = [...arrows]
      .filter(([file]) => within(file))
      .flatMap(([file, to]) =>
        [...to]
          .filter((other) => within(other) && room(other) !== room(file))
          .map((other) => `${shown(file)} takes from ${shown(other)}`),
      );
    breaks(`These rooms stand in a circle: ${circle.join(', ')}`, ...ties);
  }
  for (const { file, code } of all.values()) {
    const place = shown(file);
    if (
      /\/mod\.rs$/.test(file) &&
      /^\s*(?:pub(?:\([^)]*\))?\s+)?(?:async\s+)?(?:fn|struct|enum|trait|impl|const|static)\b/m.test(code)
    ) {
      breaks(
        "A folder's face says what it is, names its parts and hands things out; its code belongs into a part",
        place,
      );
    }
    if (existsSync(file.replace(/\.rs$/, ''))) breaks("A folder's face is its mod.rs", place);
    if (
      PURE.includes(crate) &&
      /\b(Utc::now|SystemTime|Instant::now|std::(fs|net|env|process)|rand::rng)\b/.test(code)
    ) {
      breaks('What is pure has no clock, no chance, no disk and no network', place);
    }
    if (crate !== 'store' && /\bsqlx::(query|raw_sql)|\.execute\(""/.test(code))
      breaks('SQL stands in the store alone', place);
    if (crate === 'store' && !BEGINS.includes(place) && /\.begin\(\)/.test(code)) {
      breaks('A transaction begins in act.rs, so that none changes a thing without trail and news', place);
    }
    const derived =
      /#\[(?:derive|cfg_attr)\([^\]]*ToSchema[^\]]*\)\]((?:\s*#\[[^\]]*\])*)\s*pub(?:\([^)]*\))?\s+(?:struct|enum)\s+(\w+)/g;
    for (const [, attributes, name] of readFileSync(file, 'utf8').matchAll(derived)) {
      const called = attributes.match(/schema\(as = (\w+)/)?.[1] ?? name;
      // A reader of the description does not tell Setup from SetUp either.
      schemas.set(called.toLowerCase(), [...(schemas.get(called.toLowerCase()) ?? []), place]);
    }
  }
}
for (const [name, files] of schemas) {
  if (files.length > 1) breaks(`The interface's description would hold two types named ${name}`, ...files);
}

if (broken.length > 0) {
  console.error(
    `${broken.join('\n')}\nThe architecture is broken in ${broken.length} places; docs/architecture.md says what holds.`,
  );
  process.exit(1);
}
