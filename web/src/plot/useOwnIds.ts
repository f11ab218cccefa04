import { useId, useMemo } from 'react';

/** Ids that no other drawing on the page has, by what they are for. */
export function useOwnIds<const Part extends string>(...parts: readonly Part[]): Record<Part, string> {
  const own = useId().replaceAll(/\W/g, '');
  const names = parts.join(' ');
  return useMemo(
    () => Object.fromEntries(names.split(' ').map((part) => [part, `${own}-${part}`])) as Record<Part, string>,
    [own, names],
  );
}
