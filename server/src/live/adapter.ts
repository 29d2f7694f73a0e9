import { IoAdapter } from '@nestjs/platform-socket.io';
import { createAdapter } from '@socket.io/postgres-adapter';
import type { INestApplicationContext } from '@nestjs/common';
import type { RequestHandler } from 'express';
import type pg from 'pg';
import type { Server, ServerOptions } from 'socket.io';
import { poolOf } from '../database/pool.js';
import type { ownHosts } from '../http/hosts.js';
import { fromOwnPage } from '../http/session.js';

/** The largest message, in bytes: a batch of a whole pasted book fits in it. */
const largest = 8 * 1024 * 1024;

/**
 * Live connections carry the same session as requests, and only pages of this server may open them. What one process
 * tells, the others hear through PostgreSQL.
 */
export class LiveAdapter extends IoAdapter {
  readonly #pool: pg.Pool;

  constructor(
    app: INestApplicationContext,
    private readonly session: RequestHandler,
    private readonly isOwn: ReturnType<typeof ownHosts>,
    databaseUrl: string,
  ) {
    super(app);
    this.#pool = poolOf(databaseUrl, 4);
  }

  override createIOServer(port: number, options?: ServerOptions): Server {
    const server = super.createIOServer(port, {
      ...options,
      transports: ['websocket'], // a connection stays with one process
      maxHttpBufferSize: largest,
      adapter: createAdapter(this.#pool),
      allowRequest: (request: Parameters<typeof fromOwnPage>[0], decide: (e: string | null, ok: boolean) => void) =>
        decide(null, this.isOwn(request) && fromOwnPage(request)),
    } as unknown as ServerOptions) as Server;
    server.engine.use(this.session);
    return server;
  }

  override async close(server: Server): Promise<void> {
    await super.close(server);
    // Not waited for: a listening connection that was lost just now is never given back, and the process is ending.
    void this.#pool.end();
  }
}
