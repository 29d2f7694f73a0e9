import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import type { Self } from '@tea-pencil/wire';
import { demoPerson, freePort, ownDatabase, startServer, Visitor, type Running } from './support/server';

/** Signing in with a work account, against a provider of its own (the package oidc-provider, OpenID Connect Core 1.0). */

const who: Record<string, Record<string, unknown>> = {
  'sub-ines': { name: 'Someone Else', email: 'Ines@harrow-press.example', email_verified: true },
  'sub-piet': { name: 'Piet Sandner', email: 'piet@sandner.example', email_verified: true },
  'sub-runa': { name: 'Tobias Oyelaran', email: 'runa@harrow.example', email_verified: true },
  'sub-forged': { name: 'Tobias', email: 'tobias@harrow-press.example', email_verified: false },
};

let provider: ChildProcess;
let issuer: string;
let server: Running;
let ines: Visitor;
const secret = 'only for this test, and long enough';

/** Tells the provider what to say of whom. */
const tell = () => fetch(`${issuer}/people`, { method: 'POST', body: JSON.stringify(who) });

beforeAll(async () => {
  const port = await freePort();
  provider = spawn(process.execPath, [path.join(__dirname, 'support/provider.mjs')], {
    stdio: ['ignore', 'pipe', 'ignore'],
    env: { ...process.env, CLIENT: 'tea', SECRET: secret, BACK: `http://localhost:${port}/api/sign-in/work/back` },
  });
  issuer = await new Promise<string>((done) =>
    provider.stdout!.once('data', (said: Buffer) => done(said.toString().trim())),
  );
  await tell();
  server = await startServer(port, {
    TEA_PENCIL_DATABASE_URL: await ownDatabase('work_accounts', 'the demo'),
    TEA_PENCIL_OIDC_ISSUER: issuer,
    TEA_PENCIL_OIDC_CLIENT: 'tea',
    TEA_PENCIL_OIDC_SECRET: secret,
    TEA_PENCIL_OIDC_NAME: 'the press',
  });
  ines = await demoPerson(server.address, 'ines');
}, 60_000);
afterAll(async () => {
  await server.stop();
  provider.kill();
});

/** A browser, as far as cookies and addresses go: both servers are on one name, and cookies know no ports (RFC 6265, 8.5). */
class Browser {
  readonly #cookies = new Map<string, Map<string, string>>();

  async get(
    address: string,
    form?: Record<string, string>,
  ): Promise<{ status: number; to: string | null; text: string }> {
    const at = new URL(address);
    const jar = this.#cookies.get(at.port) ?? new Map<string, string>();
    this.#cookies.set(at.port, jar);
    const response = await fetch(address, {
      redirect: 'manual',
      headers: { cookie: [...jar].map(([name, value]) => `${name}=${value}`).join('; ') },
      ...(form && { method: 'POST', body: new URLSearchParams(form) }),
    });
    for (const set of response.headers.getSetCookie()) {
      const [, name, value] = /^([^=]+)=([^;]*)/.exec(set)!;
      jar.set(name!, value!);
    }
    const to = response.headers.get('location');
    return { status: response.status, to: to && new URL(to, address).href, text: await response.text() };
  }

  get visitor(): Visitor {
    const one = new Visitor(server.address);
    const jar = this.#cookies.get(new URL(server.address).port);
    one.cookie = `tea-pencil=${jar?.get('tea-pencil')}`;
    return one;
  }
}

const own = (address: string) => address.replace('//localhost:', '//127.0.0.1:');

/** Signs in at the provider as somebody. @returns where that ends */
async function signIn(sub: string, to = '/', browser = new Browser()): Promise<{ browser: Browser; end: string }> {
  let next = `${server.address}/api/sign-in/work?to=${encodeURIComponent(to)}`;
  for (let i = 0; i < 12; i++) {
    const { status, to: on, text } = await browser.get(next);
    if (on && new URL(own(on)).origin === server.address && !on.includes('/api/'))
      return { browser, end: on.replace(/^http:\/\/[^/]+/, '') };
    if (on) next = own(on);
    else {
      // The provider’s own stand-in forms: who one is, and that one agrees.
      expect(status).toBe(200);
      const action = own(/action="([^"]+)"/.exec(text)![1]!);
      const prompt = /name="prompt" value="(\w+)"/.exec(text)![1]!;
      const { to: done } = await browser.get(action, { prompt, login: sub, password: 'any' });
      next = own(done!);
    }
  }
  throw new Error('no end to it');
}
const me = async (browser: Browser) => (await browser.visitor.ask<{ me: Self | null }>('GET', '/api/me')).body.me;

test('the page of signing in offers it under its name', async () => {
  expect((await new Visitor(server.address).ask('GET', '/api/door')).body).toMatchObject({ work: 'the press' });
});

test('somebody with a confirmed address comes in as who they are, where they wanted to go, and comes again by their account', async () => {
  const { browser, end } = await signIn('sub-ines', '/m/abc?thread=1');
  expect(end).toBe('/m/abc?thread=1');
  expect(await me(browser)).toMatchObject({ id: ines.id, name: 'Ines Vega' });
  who['sub-ines']!.email = 'other@nowhere.example'; // once known, the address is not asked for again
  await tell();
  expect(await me((await signIn('sub-ines')).browser)).toMatchObject({ id: ines.id });
  for (const elsewhere of ['https://elsewhere.example', '//elsewhere.example', '/\\elsewhere.example', 'javascript:1'])
    expect((await signIn('sub-ines', elsewhere)).end).toBe('/');
});

test('whoever is not known, or whose address is not verified, does not come in; an invitation or a domain opens the door', async () => {
  const unknown = await signIn('sub-piet');
  expect([unknown.end, await me(unknown.browser)]).toEqual(['/sign-in?work=unknown', null]);
  const forged = await signIn('sub-forged');
  expect([forged.end, await me(forged.browser)]).toEqual(['/sign-in?work=unverified', null]);
  const { id } = (await ines.ask<{ id: string }>('POST', '/api/manuscripts', { title: 'For Piet' })).body;
  await ines.ask('POST', `/api/manuscripts/${id}/invitations`, {
    ...{ mail: 'Piet@Sandner.example', role: 'remarker', takesAway: true, invites: false, message: '' },
  });
  const piet = await signIn('sub-piet');
  expect(await me(piet.browser)).toMatchObject({
    name: 'Piet Sandner',
    mail: 'piet@sandner.example',
    hasPassword: false,
  });
  const tobias = await demoPerson(server.address, 'tobias');
  await tobias.ask('PATCH', '/api/house', { domains: ['harrow.example'] });
  // Called like somebody who is here: told apart.
  expect(await me((await signIn('sub-runa')).browser)).toMatchObject({ name: 'Tobias Oyelaran (2)' });
  const { id: runa } = (await me((await signIn('sub-runa')).browser))!;
  await tobias.ask('PATCH', `/api/house/people/${runa}`, { locked: true });
  expect((await signIn('sub-runa')).end).toBe('/sign-in?work=locked');
});

test('what comes back without having gone there, from another browser, or twice, is refused', async () => {
  const alone = await new Browser().get(`${server.address}/api/sign-in/work/back?code=x&state=y`);
  expect(alone.to).toMatch(/\/sign-in\?work=refused$/);
  const first = new Browser();
  const { to } = await first.get(`${server.address}/api/sign-in/work`);
  expect(new URL(to!).searchParams.get('code_challenge_method')).toBe('S256');
  const state = new URL(to!).searchParams.get('state')!;
  const forged = await first.get(
    `${server.address}/api/sign-in/work/back?code=forged&state=${state}&iss=${encodeURIComponent(issuer)}`,
  );
  expect(forged.to).toMatch(/work=refused$/);
  const again = await first.get(`${server.address}/api/sign-in/work/back?code=forged&state=${state}`);
  expect(again.to).toMatch(/work=refused$/);
});
