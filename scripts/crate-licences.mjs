#!/usr/bin/env node
// Adds the crates that the program is made of to the licences that are served with it: names, versions, licences,
// and each licence text once, with the crates that it came with.
import { execFileSync } from 'node:child_process';
import { appendFileSync, existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const licences = process.argv[2];
const metadata = JSON.parse(
  execFileSync('cargo', ['metadata', '--format-version', '1', '--locked'], { maxBuffer: 1 << 28 }),
);
const packages = new Map(metadata.packages.map((each) => [each.id, each]));
const nodes = new Map(metadata.resolve.nodes.map((each) => [each.id, each]));

/** What the command is made of: its dependencies but for those of tests. */
const used = new Set();
const open = metadata.packages.filter((each) => each.source === null && each.name === 'nuvek').map((each) => each.id);
while (open.length > 0) {
  const id = open.pop();
  if (used.has(id)) continue;
  used.add(id);
  for (const { pkg, dep_kinds } of nodes.get(id).deps) if (dep_kinds.some(({ kind }) => kind === null)) open.push(pkg);
}

const crates = [...used].map((id) => packages.get(id)).filter((each) => each.source !== null);
crates.sort((a, b) => a.name.localeCompare(b.name) || a.version.localeCompare(b.version));
const texts = new Map();
for (const crate of crates) {
  const folder = dirname(crate.manifest_path);
  const named = existsSync(folder)
    ? readdirSync(folder).filter((file) => /^(licen[cs]e|copying|notice)/i.test(file))
    : [];
  for (const file of named) {
    try {
      const text = readFileSync(join(folder, file), 'utf8').trim();
      texts.set(text, [...(texts.get(text) ?? []), `${crate.name} ${crate.version}`]);
    } catch {
      // A folder of that name: what it holds is named in the crate's licence.
    }
  }
}
const list = crates
  .map((each) => `- ${each.name} ${each.version}: ${each.license ?? `see its file ${each.license_file}`}`)
  .join('\n');
const bodies = [...texts].map(([text, of]) => `### ${of.join(', ')}\n\n\`\`\`text\n${text}\n\`\`\``).join('\n\n');
appendFileSync(
  licences,
  `\n\n# Crates\n\nThe server is made of these ${crates.length} crates.\n\n${list}\n\n## Their licence texts\n\n${bodies}\n`,
);
console.log(`${crates.length} crates and ${texts.size} licence texts in ${licences}`);
