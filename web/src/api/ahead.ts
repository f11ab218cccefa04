declare global {
  interface Window {
    /** Answers by path, from `public/ahead.js`, which runs before the program is there. */
    askedAhead?: Record<string, Promise<Response>>;
  }
}

/** As `fetch`; what was asked for before the program was there is handed over, once. */
export async function fetchOrTaken(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url);
  const asked = request.method === 'GET' && search === '' ? window.askedAhead?.[pathname] : undefined;
  if (!asked) return fetch(request);
  delete window.askedAhead?.[pathname];
  return asked.catch(() => fetch(request));
}
