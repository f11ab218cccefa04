import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { createServer } from 'node:net';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import pg from 'pg';

export const BINARY = process.env.NUVEK_BINARY ?? fileURLToPath(new URL('../../target/debug/nuvek', import.meta.url));

function cluster(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is missing; run the journeys with: make test');
  return url;
}

const named = (database: string) => {
  const url = new URL(cluster());
  url.pathname = `/${database}`;
  return url.toString();
};

/** Where a database is. */
export const databaseUrl = named;

/** Asks the database directly, for what no page shows. */
export async function query<T>(database: string, text: string, values: unknown[] = []): Promise<T[]> {
  const client = new pg.Client(named(database));
  await client.connect();
  try {
    return (await client.query(text, values)).rows as T[];
  } finally {
    await client.end();
  }
}

const TEMPLATE = 'nuvek_journeys';

/** Loads the demo site once a cluster; each journey gets a copy. */
export async function loadTemplate(): Promise<void> {
  const known = await query('postgres', 'select 1 from pg_database where datname = $1', [TEMPLATE]);
  if (known.length > 0) return;
  await query('postgres', `create database ${TEMPLATE}`);
  execFileSync(BINARY, ['load-demo', '--database', named(TEMPLATE)]);
}

/** A database of its own with the demo site in it. */
export async function demoDatabase(): Promise<string> {
  const name = `journey_${process.pid}_${Date.now()}`;
  await query('postgres', `create database ${name} template ${TEMPLATE}`);
  return name;
}

export async function dropDatabase(database: string): Promise<void> {
  await query('postgres', `drop database ${database} with (force)`);
}

export async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await once(server, 'listening');
  const address = server.address();
  server.close();
  if (address === null || typeof address === 'string') throw new Error('no port');
  return address.port;
}

/** The real binary, serving on a port of its own. */
export class Nuvek {
  private process: ChildProcess | undefined;

  private constructor(
    readonly database: string,
    readonly port: number,
    /** What the installation sets, beside its database. */
    private settings: Readonly<Record<string, string>> = {},
  ) {}

  /** Stops, and starts again with other settings. */
  async set(settings: Readonly<Record<string, string>>): Promise<void> {
    await this.stop();
    this.settings = settings;
    await this.start();
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Of the process that serves, for what it takes of the machine. */
  get pid(): number {
    return this.process?.pid ?? 0;
  }

  static async start(database: string): Promise<Nuvek> {
    const nuvek = new Nuvek(database, await freePort());
    await nuvek.start();
    return nuvek;
  }

  async start(): Promise<void> {
    const child = spawn(BINARY, ['serve', '--listen', `127.0.0.1:${this.port}`, '--database', named(this.database)], {
      stdio: ['ignore', 'pipe', 'inherit'],
      env: { ...process.env, ...this.settings },
    });
    this.process = child;
    await new Promise<void>((resolve, reject) => {
      child.stdout.once('data', () => resolve());
      child.once('exit', (code) => reject(new Error(`nuvek ended with ${code}`)));
    });
  }

  async stop(): Promise<void> {
    await this.end('SIGTERM');
  }

  /** Ends it as a power cut does. */
  async kill(): Promise<void> {
    await this.end('SIGKILL');
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const child = this.process;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    child.kill(signal);
    await once(child, 'exit');
  }
}

/** A stand-in that prints what it hears as lines of JSON. */
export class StandIn<Heard> {
  readonly heard: Heard[] = [];

  private constructor(private readonly process: ChildProcess) {}

  static start<Heard>(args: readonly string[], env: Readonly<Record<string, string>> = {}): StandIn<Heard> {
    const child = spawn(BINARY, ['simulate', ...args], {
      stdio: ['ignore', 'pipe', 'ignore'],
      env: { ...process.env, ...env },
    });
    const standIn = new StandIn<Heard>(child);
    createInterface({ input: child.stdout }).on('line', (line) => standIn.heard.push(JSON.parse(line) as Heard));
    return standIn;
  }

  stop(): void {
    this.process.kill();
  }
}
