// Asks who is there, and for what most see first, while the program is still on its way; src/api/ahead.ts hands it over.
window.askedAhead = {};
if (location.pathname !== '/wall') {
  const round = ['/', '/rounds'].includes(location.pathname) ? ['/api/rounds'] : [];
  for (const path of ['/api/session', '/api/site', ...round]) {
    window.askedAhead[path] = fetch(path);
    // What fails is asked for again by the program, which knows what to say of it.
    window.askedAhead[path].catch(() => undefined);
  }
}
