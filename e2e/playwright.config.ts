import { defineConfig } from '@playwright/test';

// Chromium opens a window for each device, and fills the popups of its address bar with pages of its own, which take
// longer to load than ours. It hears the last list of features alone, so those that Playwright turns off stand here too.
const OFF = [
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'WebUIOmniboxFullPopup',
  'AimEnabled',
  'AvoidCorsURLLoaderRestartOnRedirect',
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsFirstBalancedModeAutoEnable',
  'HttpsUpgrades',
  'LensOverlay',
  'MediaRouter',
  'NetworkTimeServiceQuerying',
  'OptimizationHints',
  'PaintHolding',
  'PreconnectToSearch',
  'ThirdPartyStoragePartitioning',
];

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
        `--disable-features=${OFF.join(',')}`,
      ],
    },
  },
  projects: [
    { name: 'journeys', testDir: 'journeys' },
    { name: 'shots', testDir: 'shots' },
    { name: 'figures', testDir: 'figures' },
  ],
});
