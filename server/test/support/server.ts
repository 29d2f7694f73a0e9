import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import path from 'node:path';
import { Client } from 'pg';
import { io, type Socket } from 'socket.io-client';

/** The built server as its users meet it: a process of its own, spoken to by requests and live messages. */

export const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export interface Running {
  address: string;
  process: ChildProcess;
  /** What its log has said. */
  said(): string;
  stop(signal?: NodeJS.Signals): Promise<void>;
}

/** @param environment what differs from the tests' own: another database, several processes */
export async function startServer(port?: number, environment: Record<string, string> = {}): Promise<Running> {
  const at = port ?? (await freePort());
  const child = spawn(process.execPath, [path.resolve(__dirname, '../../dist/main.js')], {
    stdio: ['ignore', 'ignore', 'pipe'],
    env: {
      ...process.env,
      TEA_PENCIL_PORT: String(at),
      TEA_PENCIL_DATABASE_URL: process.env.TEA_PENCIL_TEST_DATABASE,
      TEA_PENCIL_SECRET: process.env.TEA_PENCIL_SECRET ?? 'for the tests only',
      TEA_PENCIL_API_DOCS: '1',
      TEA_PENCIL_REQUESTS: '1000000',
      ...environment,
    },
  });
  let said = '';
  child.stderr.on('data', (piece: Buffer) => {
    said += piece.toString();
    process.stderr.write(piece);
  });
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const address = `http://127.0.0.1:${at}`;
  for (let i = 0; ; i++) {
    if (
      await fetch(`${address}/api/health`).then(
        (r) => r.ok,
        () => false,
      )
    )
      break;
    if (i > 400 || child.exitCode !== null) throw new Error('the server did not start');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return {
    address,
    process: child,
    said: () => said,
    stop: async (signal = 'SIGTERM') => {
      child.kill(signal);
      await ended;
    },
  };
}

/**
 * A new database beside that of the tests: for a server whose work no other may take.
 * @param holding nothing yet, or the demo's people and their manuscripts, which is sooner there than by a server's first start
 */
export async function ownDatabase(name: string, holding: 'nothing' | 'the demo' = 'nothing'): Promise<string> {
  const url = new URL(process.env.TEA_PENCIL_TEST_DATABASE!);
  const client = new Client({ connectionString: url.href });
  await client.connect();
  const mine = `${url.pathname.slice(1)}_${name}`;
  await client.query(`DROP DATABASE IF EXISTS ${mine} WITH (FORCE)`);
  const template = holding === 'the demo' && process.env.TEA_PENCIL_TEST_TEMPLATE;
  await client.query(`CREATE DATABASE ${mine} TEMPLATE ${template || 'template1'}`);
  await client.end();
  url.pathname = mine;
  return url.href;
}

/** The server that all files of a run share, where there is one; else one of this file's own. For what changes no environment. */
export async function sharedServer(): Promise<Pick<Running, 'address' | 'stop'>> {
  const address = process.env.TEA_PENCIL_TEST_ADDRESS;
  return address ? { address, stop: () => Promise.resolve() } : startServer();
}

export interface Answered<T> {
  status: number;
  body: T;
  headers: Headers;
}

/** Someone at a browser: a cookie, requests, live connections. */
export class Visitor {
  cookie = '';
  id = '';
  constructor(readonly address: string) {}

  async ask<T = { message: string }>(
    method: string,
    at: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answered<T>> {
    const form = body instanceof FormData;
    const response = await fetch(this.address + at, {
      method,
      headers: {
        // A connection kept from a file of tests before may be closed by the server in the very moment it is taken again
        // (RFC 9112, 9.5). One that brings a file stays open: the answer may come before all of it was sent.
        ...(!form && { connection: 'close' }),
        cookie: this.cookie,
        ...(body !== undefined && !form && { 'content-type': 'application/json' }),
        ...headers,
      },
      body: form ? body : body === undefined ? undefined : JSON.stringify(body),
    });
    const set = response.headers.get('set-cookie');
    if (set) this.cookie = set.split(';')[0]!;
    const text = await response.text();
    const json = response.headers.get('content-type')?.includes('json');
    return { status: response.status, body: (json ? JSON.parse(text) : text) as T, headers: response.headers };
  }

  live(): Socket {
    return io(this.address, {
      path: '/api/live',
      transports: ['websocket'],
      extraHeaders: { cookie: this.cookie },
      forceNew: true,
      reconnection: false,
    });
  }

  manuscripts = async () =>
    (await this.ask<{ id: string; title: string; pending: number }[]>('GET', '/api/manuscripts')).body;

  /** The manuscript of that title; of several, that of most members: what tests bring in is shared with nobody. */
  async manuscript(title: RegExp): Promise<string> {
    const found = [];
    for (const { id } of (await this.manuscripts()).filter((entry) => title.test(entry.title))) {
      const { body } = await this.ask<{ people: { role: string | null }[] }>('GET', `/api/manuscripts/${id}`);
      found.push({ id, members: body.people.filter(({ role }) => role).length });
    }
    return found.sort((a, b) => b.members - a.members)[0]!.id;
  }
}

export async function demoPerson(address: string, login: string): Promise<Visitor> {
  const visitor = new Visitor(address);
  const people = await visitor.ask<{ id: string; login: string }[]>('GET', '/api/demo-people');
  visitor.id = people.body.find((person) => person.login === login)!.id;
  const { status } = await visitor.ask('POST', '/api/sign-in/demo', { person: visitor.id });
  if (status !== 200) throw new Error(`${login} could not sign in`);
  return visitor;
}

let links = 0;

/** Somebody who comes to a manuscript by a link that a keeper has made. */
export async function guestOf(
  keeper: Visitor,
  manuscript: string,
  { role, name, ...more }: { role: string; name: string; passphrase?: string; mostUses?: number; endsAt?: string },
): Promise<Visitor> {
  const token = await linkTo(keeper, manuscript, { role, ...more });
  const guest = new Visitor(keeper.address);
  const entered = await guest.ask('POST', '/api/links/entered', { token, name, passphrase: more.passphrase ?? null });
  if (entered.status !== 200) throw new Error(`${name} could not come in: ${entered.body.message}`);
  guest.id = (await guest.ask<{ me: { id: string } }>('GET', '/api/me')).body.me.id;
  return guest;
}

/** What the address of a new link holds. */
export async function linkTo(
  keeper: Visitor,
  manuscript: string,
  { role, ...more }: { role: string; passphrase?: string; mostUses?: number; endsAt?: string },
): Promise<string> {
  const asked = { name: `Link ${++links}`, role, passphrase: null, endsAt: null, mostUses: null, ...more };
  const { body } = await keeper.ask<{ address: string }>('POST', `/api/manuscripts/${manuscript}/links`, asked);
  return body.address.split('/').at(-1)!;
}
