import { once } from 'node:events';
import { connect, createServer, type Server, type Socket } from 'node:net';

/** What lies between a browser and a server, and can be away while both go on. */
export class Network {
  private readonly open = new Set<Socket>();

  private constructor(
    private server: Server,
    private readonly port: number,
    private readonly to: number,
  ) {}

  static async to(port: number): Promise<Network> {
    const server = createServer().listen(0, '127.0.0.1');
    await once(server, 'listening');
    const address = server.address();
    if (address === null || typeof address === 'string') throw new Error('no port');
    const network = new Network(server, address.port, port);
    network.carry();
    return network;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Whatever is on its way is lost. */
  async goesAway(): Promise<void> {
    const closed = once(this.server, 'close');
    this.server.close();
    this.open.forEach((socket) => socket.destroy());
    await closed;
  }

  async comesBack(): Promise<void> {
    this.server = createServer().listen(this.port, '127.0.0.1');
    await once(this.server, 'listening');
    this.carry();
  }

  private carry(): void {
    this.server.on('connection', (near) => {
      const far = connect(this.to, '127.0.0.1');
      for (const [from, to] of [
        [near, far],
        [far, near],
      ] as const) {
        this.open.add(from);
        from.on('error', () => to.destroy());
        from.on('close', () => {
          this.open.delete(from);
          to.destroy();
        });
        from.pipe(to);
      }
    });
  }
}
