import type { Page } from '@playwright/test';
import type { Node } from 'prosemirror-model';
import { schema, writeDocx, type Thread } from '@tea-pencil/core';

/** Manuscripts that have been revised by many hands, brought in as files. */

const names = ['Odile Marsh', 'Piet Sandner', 'Runa Selby', 'Hob Carrow', 'Isa Lund'];
const words = 'the tide comes in behind you and the line of dry weed is written there twice a day'.split(' ');

/** Ten paragraphs under two headings for each hundred changes; every kind of change that files hold, in turn. */
export function revised(howMany: number): { doc: Node; threads: Thread[] } {
  const { marks, nodes } = schema;
  const blocks: Node[] = [nodes.paragraph!.create({ style: 'title' }, schema.text('The second groyne'))];
  let made = 0;
  for (let p = 0; made < howMany; p++) {
    if (p % 5 === 0) blocks.push(nodes.paragraph!.create({ style: 'heading1' }, schema.text(`Walk ${p / 5 + 1}`)));
    const content: Node[] = [schema.text(`Paragraph ${p + 1}: `)];
    for (let i = 0; i < 10 && made < howMany; i++, made++) {
      const change = {
        change: `c${made}`,
        author: `p${made % 5}`,
        date: `2026-11-${String(1 + (made % 20)).padStart(2, '0')}T09:00:00Z`,
      };
      const word = words[(made * 7) % words.length]!;
      const said = `${words[made % words.length]!} `;
      const inserted = marks.insertion!.create(change);
      const deleted = marks.deletion!.create(change);
      const looks = marks.formatting!.create({ ...change, was: { italic: null }, now: { italic: true } });
      const kinds: Node[][] = [
        [schema.text(`very${made} `, [inserted])],
        [schema.text(`quite${made} `, [deleted])],
        [schema.text('mermaids ', [deleted]), schema.text('mermaid’s ', [inserted])],
        [schema.text(`${word} `, [marks.italic!.create(), looks])],
      ];
      content.push(schema.text(said), ...kinds[made % 4]!, schema.text(`${words[(made + 3) % words.length]!} `));
    }
    content.push(schema.text('end.'));
    blocks.push(nodes.paragraph!.create(null, content));
  }
  return { doc: nodes.doc!.create(null, blocks), threads: [] };
}

/** Brings a revised manuscript in, and opens it. */
export async function bringIn(page: Page, name: string, howMany: number): Promise<string> {
  const people = names.map((one, i) => ({ id: `p${i}`, name: one, initials: one[0]! }));
  const bytes = await writeDocx({ ...revised(howMany), people, assets: [] });
  const answer = await page.request.post('/api/manuscripts/import', {
    multipart: { file: { name: `${name}.docx`, mimeType: 'application/octet-stream', buffer: Buffer.from(bytes) } },
  });
  const { id } = (await answer.json()) as { id: string };
  await leaveOutside(page, id);
  await page.goto(`/m/${id}`);
  await page.locator('.ProseMirror').waitFor();
  return id;
}

/** Says that the people a file names are nobody here, so that nobody is asked who they are. */
export async function leaveOutside(page: Page, id: string): Promise<void> {
  const info = (await (await page.request.get(`/api/manuscripts/${id}`)).json()) as {
    people: { id: string; standing: string }[];
  };
  for (const person of info.people)
    if (person.standing === 'outside')
      await page.request.patch(`/api/manuscripts/${id}/outside/${person.id}`, { data: { matchedTo: null } });
}
