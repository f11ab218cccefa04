import { defineConfig } from '@playwright/test';

export default defineConfig({
  globalSetup: './support/setup.ts',
  // Each journey has a server and a site of its own, so two can go on at once.
  workers: 2,
  // Tests of a file too: the longest one would be left to one worker at the end.
  fullyParallel: true,
  // Journeys take seconds; a machine that does other work too may take many more.
  timeout: 240_000,
  expect: { timeout: 20_000 },
  // A shared host can stand still for seconds; what fails twice is broken.
  retries: process.env.CI ? 1 : 0,
  forbidOnly: true,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    serviceWorkers: 'block',
    // Nothing waits for what glides in, and nobody paints it.
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  projects: [
    { name: 'journeys', testDir: 'journeys' },
    { name: 'shots', testDir: 'shots' },
    { name: 'figures', testDir: 'figures' },
  ],
});
