import { once } from 'node:events';
import { connect, createServer, type Server, type Socket } from 'node:net';
import { freePort } from './nuvek';

/** What lies between a browser and a server, and can be away while both go on. */
export class Network {
  private readonly open = new Set<Socket>();
  private server: Server | undefined;

  private constructor(
    private readonly port: number,
    private readonly to: number,
  ) {}

  static async to(port: number): Promise<Network> {
    const network = new Network(await freePort(), port);
    await network.comesBack();
    return network;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Whatever is on its way is lost. */
  async goesAway(): Promise<void> {
    const { server } = this;
    if (!server) return;
    this.server = undefined;
    const closed = once(server, 'close');
    server.close();
    this.open.forEach((socket) => socket.destroy());
    await closed;
  }

  async comesBack(): Promise<void> {
    this.server = createServer((near) => this.carry(near)).listen(this.port, '127.0.0.1');
    await once(this.server, 'listening');
  }

  private carry(near: Socket): void {
    const far = connect(this.to, '127.0.0.1');
    for (const [from, to] of [
      [near, far],
      [far, near],
    ] as const) {
      this.open.add(from);
      // It closes then, too.
      from.on('error', () => undefined);
      from.on('close', () => {
        this.open.delete(from);
        to.destroy();
      });
      from.pipe(to);
    }
  }
}
