import { momentOf } from '../words/time';

/** The ids that an address names; what is none is not asked for. */
export function idsIn<Name extends string>(
  params: URLSearchParams,
  names: readonly Name[],
): Partial<Record<Name, string>> {
  return found(names, (name) => {
    const id = params.get(name);
    return id !== null && /^[0-9a-f-]{36}$/.test(id) ? id : null;
  });
}

/** The days that an address names, as moments: each begins at midnight of the site. */
export function daysIn<Name extends string>(
  params: URLSearchParams,
  names: readonly Name[],
): Partial<Record<Name, string>> {
  return found(names, (name) => momentOf(`${params.get(name) ?? ''}T00:00`));
}

function found<Name extends string>(names: readonly Name[], of: (name: Name) => string | null) {
  const all: Partial<Record<Name, string>> = {};
  for (const name of names) {
    const value = of(name);
    if (value !== null) all[name] = value;
  }
  return all;
}
