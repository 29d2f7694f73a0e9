import { lookOf, nameFromFile, nameKept, wrongWithName } from '../src/names/names';
import { demoPerson, sharedServer, type Visitor } from './support/server';

/** Names that cannot be read, and names that are taken for another's: UTS #39 (Unicode Security Mechanisms). */

let server: Awaited<ReturnType<typeof sharedServer>>;
let maren: Visitor;
beforeAll(async () => {
  server = await sharedServer();
  maren = await demoPerson(server.address, 'maren');
});
afterAll(async () => {
  await maren.ask('PATCH', '/api/me', { name: 'Maren Holt', initials: 'MH' });
  await server.stop();
});

// Pairs after the table of confusables of UTS #39 (confusables.txt): Cyrillic, Greek, full width, digits, “rn”, marks unseen.
const alike = [
  ['Ines Vega', 'Іnеѕ Vеgа'],
  ['Ines Vega', 'lnes  VEGA'],
  ['Tobias Oyelaran', 'Τ0bias Οyelaran'],
  ['Maren Holt', 'Ｒnaren Ｈolt'],
  ['Maren Holt', 'rnaren\u00a0holt'],
  ['Ines Vega', 'Ines\u200bVega'],
] as const;
const different = [
  ['José', 'Jose'],
  ['Mila', 'Milla'],
  ['Maren', 'Marne'],
  ['محمد', 'محمود'],
] as const;

test('names that read the same look the same, others do not', () => {
  for (const [a, b] of alike) expect([b, lookOf(b)]).toEqual([b, lookOf(a)]);
  for (const [a, b] of different) expect([b, lookOf(b)]).not.toEqual([b, lookOf(a)]);
});

test('a name holds no sign that is not seen, save where letters join; from a file it comes without them', () => {
  const honest = ['Zoë', 'Ngũgĩ wa Thiong’o', 'علی\u200cرضا', 'नमस्\u200dते', '3rd reader', 'O’Neill-Smith', '李小龙'];
  for (const name of honest)
    expect([name, wrongWithName(name), nameFromFile(name)]).toEqual([name, null, nameKept(name)]);
  const forged = [
    'Ines\u202eageV',
    '\u2066Ines',
    'A\u200dB',
    'x\u{e0041}',
    'Ines\u00ad',
    'a\u0301\u0302\u0303\u0304\u0305',
    '…',
  ];
  for (const name of forged) {
    expect([name, wrongWithName(name)]).toEqual([name, expect.any(String)]);
    expect([name, wrongWithName(nameFromFile(name))]).toEqual([name, null]);
  }
  expect(nameFromFile('Ines\n\u202eVega')).toBe('Ines Vega');
  expect(nameFromFile('\u200b')).toBe('Unnamed');
});

test('nobody takes a name that reads like another’s; two who want one at once do not both get it', async () => {
  for (const name of ['Іnеѕ Vеgа', 'INES VEGA', 'lnes Vega']) {
    const { status, body } = await maren.ask('PATCH', '/api/me', { name });
    expect([name, status, body.message]).toEqual([name, 409, expect.stringMatching(/called so/)]);
  }
  const unseen = await maren.ask('PATCH', '/api/me', { name: 'Maren\u202e Holt' });
  expect([unseen.status, unseen.body.message]).toEqual([400, expect.stringMatching(/nobody can see/)]);
  expect((await maren.ask('PATCH', '/api/me', { initials: '\u202e' })).status).toBe(400);
  const tobias = await demoPerson(server.address, 'tobias');
  const both = await Promise.all([
    maren.ask('PATCH', '/api/me', { name: 'Dune Grass' }),
    tobias.ask('PATCH', '/api/me', { name: 'Dune  grass' }),
  ]);
  expect(both.map(({ status }) => status).sort()).toEqual([204, 409]);
  await tobias.ask('PATCH', '/api/me', { name: 'Tobias Oyelaran', initials: 'TO' });
  expect((await maren.ask('PATCH', '/api/me', { name: 'Maren  Holt' })).status).toBe(204);
  expect((await maren.ask<{ me: { name: string } }>('GET', '/api/me')).body.me.name).toBe('Maren Holt');
});
