declare global {
  interface Window {
    /** Answers by path, from `public/ahead.js`, which runs before the program is there. */
    askedAhead?: Record<string, Promise<Response>>;
  }
}

/** Up to which news the first answers know everything, by the server's numbers. */
const first: Promise<number>[] = [];

/** What was told up to here, all know that is on the screen; nothing where that was not said. */
export async function knownByAll(): Promise<number | undefined> {
  const least = Math.min(...(await Promise.all(first)));
  return Number.isFinite(least) ? least : undefined;
}

/** As `fetch`; what was asked for before the program was there is handed over, once. */
export async function fetchOrTaken(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url);
  const asked = request.method === 'GET' && search === '' ? window.askedAhead?.[pathname] : undefined;
  if (!asked) return fetch(request);
  delete window.askedAhead?.[pathname];
  const answer = asked.catch(() => fetch(request));
  // Whatever the program asks for after one of these was answered knows as much, or more.
  first.push(answer.then(({ headers }) => Number(headers.get('news-position') ?? NaN)).catch(() => NaN));
  return answer;
}
