import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Transform } from 'prosemirror-transform';
import { schema, writeDocx } from '@tea-pencil/core';
import { handout } from '../../core/test/support/handout';

const root = path.resolve(__dirname, '../..');
const folder = mkdtempSync(path.join(tmpdir(), 'convert-'));
const at = (name: string) => path.join(folder, name);
const convert = (...args: string[]) =>
  spawnSync(process.execPath, [path.join(root, 'scripts/convert.mjs'), ...args], { cwd: root, encoding: 'utf8' });

beforeAll(async () => {
  const { doc, paragraph } = schema.nodes;
  const text = doc!.create(null, paragraph!.create(null, schema.text('At low water the slipway is dry.')));
  const change = { change: 'c1', author: 'ann', date: '2026-11-20T08:00:00Z' };
  const tr = new Transform(text).addMark(4, 8, schema.marks.deletion!.create(change));
  tr.insert(8, schema.text('high ', [schema.marks.insertion!.create(change)]));
  const people = [{ id: 'ann', name: 'Ann', initials: 'A' }];
  writeFileSync(at('in.docx'), await writeDocx({ doc: tr.doc, people, threads: [], assets: [] }));
});

test('a marked file becomes a fair or a former text', () => {
  expect(convert(at('in.docx'), at('fair.txt'), '--accept', 'all')).toMatchObject({ status: 0, stderr: '' });
  expect(readFileSync(at('fair.txt'), 'utf8')).toBe('At high water the slipway is dry.\n');
  expect(convert(at('in.docx'), at('before.txt'), '--reject', 'all').status).toBe(0);
  expect(readFileSync(at('before.txt'), 'utf8')).toBe('At low water the slipway is dry.\n');
});

// Outside check: pandoc (Debian).
test('marks survive from file to file', () => {
  expect(convert(at('in.docx'), at('out.docx')).status).toBe(0);
  const seen = execFileSync('pandoc', [
    '-f',
    'docx',
    '--track-changes=all',
    '-t',
    'markdown',
    '--wrap=none',
    at('out.docx'),
  ]).toString();
  expect(seen).toContain('[low]{.deletion author="Ann" date="2026-11-20T08:00:00Z"}');
  expect(seen).toContain('[high]{.insertion author="Ann" date="2026-11-20T08:00:00Z"}');
});

test('what cannot be done is said in a sentence', () => {
  expect(convert(at('in.docx'), at('x.txt')).stderr).toMatch(/pending change.*say --accept all/);
  expect(convert(at('none.docx'), at('x.txt')).stderr).toMatch(/none\.docx cannot be read \(ENOENT\)/);
  expect(convert(at('in.docx'), at('x.pdf')).stderr).toMatch(/only \.docx, \.odt, \.fodt, .* and \.text can be read/);
  expect(convert().stderr).toMatch(/^Usage/);
  writeFileSync(at('bad.docx'), 'nothing');
  expect(convert(at('bad.docx'), at('x.txt')).stderr).toMatch(/bad\.docx is not what its name says/);
});

test('many files at once go into a folder; what one cannot be is said, and the others are there', () => {
  writeFileSync(at('second.docx'), readFileSync(at('in.docx')));
  const told = convert(
    at('in.docx'),
    at('bad.docx'),
    at('second.docx'),
    '--to',
    at('out'),
    '--as',
    'txt',
    '--accept',
    'all',
  );
  expect(told.status).toBe(2);
  expect(told.stderr).toMatch(/bad\.docx is not what its name says[^]*1 of 3 files were not converted/);
  for (const name of ['in', 'second'])
    expect(readFileSync(at(`out/${name}.txt`), 'utf8')).toBe('At high water the slipway is dry.\n');
  expect(convert(at('in.docx'), '--to', folder).stderr).toMatch(/written over itself/);
});

test('what is not held is told to programs as JSON', () => {
  writeFileSync(at('handout.docx'), handout);
  const { status, stdout } = convert(at('handout.docx'), at('handout.txt'), '--accept', 'all', '--losses');
  expect(status).toBe(0);
  const { file, losses } = JSON.parse(stdout) as { file: string; losses: { what: string; howMany: number }[] };
  expect(file).toBe(at('handout.docx'));
  expect(losses).toEqual(
    expect.arrayContaining([
      { what: 'formula', where: 'text', howMany: 1 },
      { what: 'threads of comments', where: 'text', howMany: 1 },
    ]),
  );
  // From the same kind to the same kind nothing is left behind.
  const same = convert(at('handout.docx'), at('same.docx'), '--losses');
  expect(JSON.parse(same.stdout)).toEqual({ file: at('handout.docx'), losses: [] });
});
