import { gunzipSync } from 'node:zlib';
import { zipSync, strToU8 } from 'fflate';
import { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { AddMarkStep } from 'prosemirror-transform';
import { io } from 'socket.io-client';
import { record, schema } from '@tea-pencil/core';

/**
 * Acts of one person that are as large as they may be, or larger: a process of its own, so that what they cost the one
 * who does them is not felt by those who are measured.
 */

const paragraph = (text) => schema.nodes.paragraph.create(null, schema.text(text));
const sentence = 'The line of dry weed is written there twice a day then rubbed out. ';

/** Somebody who has a manuscript open and sends whatever they like. */
class Hand {
  constructor({ address, cookie, person }) {
    Object.assign(this, { address, cookie, person });
  }

  async open(manuscript) {
    this.manuscript = manuscript;
    const { address, cookie } = this;
    this.socket ??= io(address, {
      path: '/api/live',
      transports: ['websocket'],
      forceNew: true,
      extraHeaders: { cookie },
    });
    if (!this.socket.connected) await new Promise((resolve) => this.socket.once('connect', resolve));
    const { version, packed } = await this.ask('join', { client: 'hostile' });
    const doc = Node.fromJSON(schema, JSON.parse(gunzipSync(packed)));
    return { version, state: EditorState.create({ doc }) };
  }

  ask = (name, message) => this.socket.timeout(120_000).emitWithAck(name, { manuscript: this.manuscript, ...message });

  /** Makes an edit and sends it until it is taken or refused; those who write beside it go on. */
  async edit(manuscript, change, recorded = true) {
    let answer = {};
    for (let attempt = 0; attempt < 8; attempt++) {
      const { version, state } = await this.open(manuscript);
      const stamp = {
        author: this.person,
        date: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
        newChange: () => `h${Date.now()}`,
      };
      const tr = change(state);
      const { steps } = recorded ? record(state, tr, stamp) : tr;
      answer = await this.ask('submit', {
        version,
        steps: steps.map((step) => step.toJSON()),
        intent: 'pencil',
        client: 'hostile',
      });
      if (!answer.behind) break;
    }
    return answer.refused ?? (answer.taken ? 'taken' : JSON.stringify(answer));
  }

  async request(method, path, body) {
    const answer = await fetch(`${this.address}/api${path}`, { method, body, headers: { cookie: this.cookie } });
    await answer.arrayBuffer();
    return answer.status;
  }

  upload(name, bytes, path = '/manuscripts/import') {
    const form = new FormData();
    form.append('file', new Blob([bytes]), name);
    return this.request('POST', path, form);
  }
}

const names = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
const docx = (body) =>
  zipSync({ 'word/document.xml': strToU8(`<w:document ${names}><w:body>${body}</w:body></w:document>`) });
const counted = (answers) =>
  [...new Set(answers.map(String))]
    .map((answer) => `${answers.filter((one) => String(one) === answer).length} × ${answer}`)
    .join(', ');
const together = async (howMany, act) => counted(await Promise.all(Array.from({ length: howMany }, (_, i) => act(i))));

/** Each act: what it is, and its doing; what comes back is what the server said. */
export const acts = {
  'a paste of 2,000 paragraphs, 134,000 letters': (hand, { book }) =>
    hand.edit(book, ({ tr, doc }) =>
      tr.insert(
        doc.content.size,
        Array.from({ length: 2000 }, () => paragraph(sentence)),
      ),
    ),
  'a paste of 300,000 words': (hand, { book }) =>
    hand.edit(book, ({ tr, doc }) =>
      tr.insert(
        doc.content.size,
        Array.from({ length: 3000 }, () => paragraph('tide '.repeat(100))),
      ),
    ),
  'a paragraph of 50,000 letters without a space, then ten letters in it': async (hand, { book }) => {
    const first = await hand.edit(book, ({ tr, doc }) => tr.insert(doc.content.size, paragraph('x'.repeat(49_000))));
    const letters = [];
    for (let i = 0; i < 10; i++)
      letters.push(await hand.edit(book, ({ tr, doc }) => tr.insertText('y', doc.content.size - 20_000)));
    return counted([first, ...letters]);
  },
  'a paragraph of 5 MB': (hand, { book }) =>
    hand.edit(book, ({ tr, doc }) => tr.insertText('x'.repeat(5_000_000), doc.content.size - 1), false),
  'the whole book made bold': (hand, { book }) =>
    hand.edit(book, ({ tr, doc }) => tr.addMark(0, doc.content.size, schema.marks.bold.create())),
  'a sweep through every paragraph': (hand, { book }) =>
    hand.edit(book, (state) => {
      const { tr } = state;
      state.doc.forEach((block, offset) => block.content.size > 20 && tr.insertText('X', tr.mapping.map(offset + 10)));
      return tr;
    }),
  'ten pages of 400 letters each, sent at once by ten windows': async (hand, { book }) => {
    const { version, state } = await hand.open(book);
    const date = new Date().toISOString().replace(/\.\d+Z$/, 'Z');
    const page = (window) => {
      const stamp = { author: hand.person, date, newChange: () => `page${Date.now()}${window}` };
      const steps = [];
      let now = state;
      for (let i = 0; i < 400; i++) {
        const tr = record(now, now.tr.insertText('x', 300 + i), stamp);
        steps.push(...tr.steps.map((step) => step.toJSON()));
        now = now.apply(tr);
      }
      return hand.ask('submit', { version, steps, intent: 'pencil', client: `window${window}` });
    };
    const answers = await Promise.all(Array.from({ length: 10 }, (_, window) => page(window)));
    return counted(answers.map((answer) => answer.refused ?? Object.keys(answer)[0]));
  },
  '45,000 steps that do nothing': async (hand, { book }) => {
    const { version } = await hand.open(book);
    const step = new AddMarkStep(3, 3, schema.marks.bold.create()).toJSON();
    const answer = await hand.ask('submit', {
      version,
      steps: Array(45_000).fill(step),
      intent: 'ink',
      client: 'hostile',
    });
    return answer.refused ?? Object.keys(answer).join();
  },
  'an inserted passage of 8,000 paragraphs decided': async (hand, { passage }) => {
    await hand.open(passage);
    const answer = await hand.ask('decide', { changes: ['passage'], verdict: 'accept', client: 'hostile' });
    return answer.refused ?? Object.keys(answer).join();
  },
  'all 5,000 changes of a book decided': async (hand, { other }) => {
    await hand.open(other);
    const answer = await hand.ask('decide', {
      changes: Array.from({ length: 5000 }, (_, i) => `c${i}`),
      verdict: 'reject',
      client: 'hostile',
    });
    return answer.refused ?? Object.keys(answer).join();
  },
  'the same decision taken back': async (hand, { decided }) => {
    await hand.open(decided);
    const changes = Array.from({ length: 5000 }, (_, i) => `c${i}`);
    const { decision } = await hand.ask('decide', { changes, verdict: 'reject', client: 'hostile' });
    const answer = await hand.ask('takeBack', { decision, client: 'hostile' });
    return answer.refused ?? Object.keys(answer).join();
  },
  'the ledger of a book, 40 times at once': (hand, { dense }) =>
    together(40, () => hand.request('GET', `/manuscripts/${dense}/ledger`)),
  'a manuscript of 500,000 words opened ten times': async (hand, { large }) => {
    for (let i = 0; i < 10; i++) await hand.open(large);
    return 'opened';
  },
  '100 copies at once': (hand, { other }) =>
    together(100, () => hand.request('GET', `/manuscripts/${other}/copies/marked.docx`)),
  '20 files of 100,000 changes at once': (hand) => {
    const piece = (k) =>
      `<w:r><w:t xml:space="preserve">words here </w:t></w:r><w:ins w:author="Ann" w:date="2026-01-01T0${k % 10}:${String(k).padStart(2, '0')}:00Z"><w:r><w:t>new </w:t></w:r></w:ins>`;
    const bytes = docx(`<w:p>${Array.from({ length: 20 }, (_, k) => piece(k)).join('')}</w:p>`.repeat(5000));
    return together(20, () => hand.upload('changes.docx', bytes));
  },
  'a text file of 5 MB of line ends, five at once': (hand) =>
    together(5, () => hand.upload('ends.txt', '\n'.repeat(5_000_000))),
  'a package of 100 MB of spaces, five at once': (hand) => {
    const bytes = docx(`<w:p>${' '.repeat(100_000_000)}</w:p>`);
    return together(5, () => hand.upload('spaces.docx', bytes));
  },
  'a picture of 9 MB of tiny segments, five at once': (hand, { book }) => {
    const segment = Buffer.from([0xff, 0xfe, 0x00, 0x02]);
    const bytes = Buffer.concat([
      Buffer.from([0xff, 0xd8]),
      Buffer.alloc(9_000_000, segment),
      Buffer.from([0xff, 0xd9]),
    ]);
    return together(5, () => hand.upload('tiny.jpg', bytes, `/manuscripts/${book}/pictures`));
  },
};

if (process.send) {
  process.on('message', async ({ act, hand, where }) => {
    const one = new Hand(hand);
    const began = performance.now();
    const said = await acts[act](one, where).catch((problem) => `failed: ${problem.message}`);
    process.send({ said, took: performance.now() - began });
    one.socket?.disconnect();
    process.disconnect();
  });
}
