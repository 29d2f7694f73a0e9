import { Client } from 'pg';
import sharp from 'sharp';
import { demoPerson, ownDatabase, sharedServer, startServer, type Visitor } from './support/server';
import { picture } from '../../e2e/support/picture';

let server: Awaited<ReturnType<typeof sharedServer>>;
let ines: Visitor; // keeper of the first chapter, whose reader Maren is; harbour is no member of the third's makers
let maren: Visitor;
let alba: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  [ines, maren, alba] = (await Promise.all(
    ['ines', 'maren', 'alba'].map((login) => demoPerson(server.address, login)),
  )) as [Visitor, Visitor, Visitor];
});
afterAll(() => server.stop());

const form = (bytes: Buffer | string, name = 'crab.png') => {
  const data = new FormData();
  data.append('file', new Blob([bytes as never]), name);
  return data;
};
type Added = { asset: string; width: number; height: number; message: string };
const send = (who: Visitor, manuscript: string, bytes: Buffer | string, name?: string) =>
  who.ask<Added>('POST', `/api/manuscripts/${manuscript}/pictures`, form(bytes, name));

test('a picture is kept, and seen by members only; for others it is not there', async () => {
  const foreword = await ines.manuscript(/Foreword/);
  const bytes = picture(40, 20, [1, 2, 3]);
  const { status, body } = await send(ines, foreword, bytes);
  expect([status, body.width, body.height]).toEqual([201, 40, 20]);
  const shown = await fetch(`${server.address}/api/assets/${body.asset}`, { headers: { cookie: ines.cookie } });
  const points = async (file: Uint8Array) => await sharp(file).raw().toBuffer();
  expect((await points(new Uint8Array(await shown.arrayBuffer()))).equals(await points(bytes))).toBe(true);
  const closed = await maren.ask('GET', `/api/assets/${body.asset}`);
  const missing = await maren.ask('GET', '/api/assets/nothing');
  expect([closed.status, closed.body]).toEqual([404, missing.body]);
  expect((await fetch(`${server.address}/api/assets/${body.asset}`)).status).toBe(401);
});

test('it is served so that it cannot run, whatever its name says', async () => {
  const foreword = await ines.manuscript(/Foreword/);
  const { body } = await send(ines, foreword, picture(4, 4, [0, 0, 0]), 'page.html');
  const { headers } = await fetch(`${server.address}/api/assets/${body.asset}`, { headers: { cookie: ines.cookie } });
  expect(headers.get('content-type')).toBe('image/png');
  expect(headers.get('x-content-type-options')).toBe('nosniff');
  expect(headers.get('content-security-policy')).toBe("default-src 'none'; sandbox");
});

test('what is no picture is refused by its bytes, with its name and the reason', async () => {
  const foreword = await ines.manuscript(/Foreword/);
  for (const [bytes, reason] of [
    ['<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script>alert(1)</script></svg>', /not a picture/],
    ['<html><script>alert(1)</script></html>', /not a picture/],
    [Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), /not a picture/],
    ['', /not a picture/],
  ] as const) {
    const { status, body } = await send(ines, foreword, bytes as Buffer, 'tide.png');
    expect(status).toBe(400);
    expect(body.message).toMatch(reason);
    expect(body.message).toMatch(/“tide.png”/);
  }
  const huge = picture(1, 1, [0, 0, 0]);
  huge.writeUInt32BE(60_000, 16);
  huge.writeUInt32BE(60_000, 20);
  expect((await send(ines, foreword, huge)).body.message).toMatch(/more than 50 million points/);
  const large = await send(ines, foreword, Buffer.alloc(10 * 1024 * 1024 + 1));
  expect([large.status, large.body.message]).toEqual([413, expect.stringMatching(/larger than 10 MB/)]);
});

test('only who may propose adds pictures; a passage with one can be taken to another manuscript of one’s own', async () => {
  const first = await ines.manuscript(/Before You Set Out/);
  expect((await send(maren, first, picture(4, 4, [0, 0, 0]))).status).toBe(403);
  const { body } = await send(ines, first, picture(6, 4, [9, 9, 9]));
  const wrack = await ines.manuscript(/Wrack/);
  const copy = (who: Visitor, asset: string) =>
    who.ask<Added>('POST', `/api/manuscripts/${wrack}/pictures/copy`, { asset });
  const copied = await copy(ines, body.asset);
  expect(copied.status).toBe(201);
  expect(copied.body.asset).not.toBe(body.asset);
  expect((await maren.ask('GET', `/api/assets/${copied.body.asset}`)).status).toBe(200);
  expect((await copy(ines, copied.body.asset)).body.asset).toBe(copied.body.asset);
  const foreword = await send(ines, await ines.manuscript(/Foreword/), picture(6, 4, [9, 9, 9]));
  expect((await copy(maren, foreword.body.asset)).status).toBe(404);
  expect((await alba.ask('GET', `/api/assets/${foreword.body.asset}`)).status).toBe(200);
});

test('of a picture nothing is kept but what is seen of it: no place, camera, owner or comment, portraits neither', async () => {
  const foreword = await ines.manuscript(/Foreword/);
  const secret = 'Taken by Maren Holt';
  const plain = sharp({ create: { width: 40, height: 20, channels: 3, background: 'teal' } });
  // The camera lay on its side (CIPA DC-008, tag Orientation, 6); where it was stands in the tags of GPS.
  const exif = {
    IFD0: { Copyright: secret },
    IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '54/1 20/1 0/1' },
  };
  const tagged = () =>
    plain
      .clone()
      .withMetadata({ orientation: 6 })
      .withExifMerge(exif)
      .withXmp(`<x:xmpmeta xmlns:x="adobe:ns:meta/"><a>${secret}</a></x:xmpmeta>`);
  for (const [name, bytes] of [
    ['shore.jpg', await tagged().jpeg().toBuffer()],
    ['shore.png', await tagged().png().toBuffer()],
    ['shore.webp', await tagged().webp().toBuffer()],
  ] as const) {
    expect(bytes.includes(secret)).toBe(true);
    const { body } = await send(ines, foreword, bytes, name);
    expect([body.width, body.height]).toEqual([20, 40]);
    const shown = await fetch(`${server.address}/api/assets/${body.asset}`, { headers: { cookie: ines.cookie } });
    const kept = Buffer.from(await shown.arrayBuffer());
    const { exif: left, xmp, orientation = 1, width, height } = await sharp(kept).metadata();
    expect([left, xmp, orientation, width, height]).toEqual([undefined, undefined, 1, 20, 40]);
    expect(kept.includes(secret)).toBe(false);
    expect((await ines.ask('PUT', '/api/me/portrait', form(bytes, name))).status).toBe(204);
    const portrait = await fetch(`${server.address}/api/people/${ines.id}/portrait`, {
      headers: { cookie: ines.cookie },
    });
    expect(Buffer.from(await portrait.arrayBuffer()).includes(secret)).toBe(false);
  }
  await ines.ask('DELETE', '/api/me/portrait');
  const half = (await tagged().jpeg().toBuffer()).subarray(0, 120);
  expect((await send(ines, foreword, half, 'half.jpg')).body.message).toMatch(/“half.jpg” is .*\. Nothing was changed/);
});

test('an upgrade empties the files of pictures that were kept before, and leaves alone what it need not touch', async () => {
  const url = await ownDatabase('old_pictures', 'the demo');
  const before = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url });
  const keeper = await demoPerson(before.address, 'ines');
  const manuscript = await keeper.manuscript(/Foreword/);
  await before.stop();
  const secret = 'Taken by Maren Holt';
  const plain = sharp({ create: { width: 40, height: 20, channels: 3, background: 'teal' } });
  const files = {
    tagged: await plain
      .clone()
      .withExif({ IFD0: { Copyright: secret } })
      .jpeg()
      .toBuffer(),
    bare: await plain.clone().jpeg().toBuffer(),
    broken: Buffer.from('no picture'),
  };
  const client = new Client({ connectionString: url });
  await client.connect();
  for (const [id, bytes] of Object.entries(files))
    await client.query(
      `INSERT INTO assets (id, manuscript_id, type, bytes, added_by) VALUES ($1, $2, 'image/jpeg', $3, $4)`,
      [id, manuscript, bytes, keeper.id],
    );
  await client.query(`INSERT INTO portraits VALUES ($1, 'image/jpeg', $2)`, [keeper.id, files.tagged]);
  await client.query(`DELETE FROM migrations WHERE name LIKE 'Bare%'`);
  const after = await startServer(undefined, { TEA_PENCIL_DATABASE_URL: url });
  const { rows } = await client.query<{ id: string; bytes: Buffer }>(
    `SELECT id, bytes FROM assets WHERE id = ANY($1) UNION ALL SELECT 'portrait', bytes FROM portraits`,
    [Object.keys(files)],
  );
  const kept = Object.fromEntries(rows.map(({ id, bytes }) => [id, bytes]));
  for (const id of ['tagged', 'portrait'] as const) {
    expect(kept[id]!.includes(secret)).toBe(false);
    expect((await sharp(kept[id]).metadata()).width).toBe(40);
  }
  expect([kept.bare!.equals(files.bare), kept.broken!.equals(files.broken)]).toEqual([true, true]);
  await client.end();
  await after.stop();
});

test('a moving picture still moves', async () => {
  const frames = ['teal', 'plum'].map((background) => ({
    create: { width: 8, height: 6, channels: 3 as const, background },
  }));
  const gif = await sharp(await Promise.all(frames.map((frame) => sharp(frame).png().toBuffer())), {
    join: { animated: true },
  })
    .gif({ delay: [200, 200] })
    .toBuffer();
  const { body } = await send(ines, await ines.manuscript(/Foreword/), gif, 'tide.gif');
  expect([body.width, body.height]).toEqual([8, 6]);
  const shown = await fetch(`${server.address}/api/assets/${body.asset}`, { headers: { cookie: ines.cookie } });
  expect((await sharp(new Uint8Array(await shown.arrayBuffer())).metadata()).pages).toBe(2);
});
