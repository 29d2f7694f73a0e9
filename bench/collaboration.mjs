import { fork } from 'node:child_process';
import path from 'node:path';
import { io } from 'socket.io-client';
import { EditorState } from 'prosemirror-state';
import { checkBatch, record } from '@tea-pencil/core';
import { build, root } from '../scripts/build.mjs';
import { book } from './book.mjs';
import { house } from './live/house.mjs';
import { percentile, typing } from './live/writers.mjs';

/** What the live server takes, against a bare relay of the same messages, in one run. */

const ms = (time) => (Number.isFinite(time) ? `${time.toFixed(1)} ms` : '–');
const both = (times) => `${ms(percentile(times, 0.5))} / ${ms(percentile(times, 0.95))}`;
const seconds = Number(process.env.BENCH_SECONDS ?? 12);

/** Places in a book for so many writers, spread evenly. */
const placesIn = (doc, howMany) =>
  Array.from({ length: howMany }, (_, k) => {
    const paragraph = Math.floor(((k + 0.5) * doc.childCount) / howMany);
    let pos = 0;
    for (let i = 0; i < paragraph; i++) pos += doc.child(i).nodeSize;
    return pos + 1;
  });

async function writing(home, doc) {
  const relay = fork(path.join(root, 'bench/live/relay.mjs'));
  const relayPort = await new Promise((resolve) => relay.once('message', resolve));
  const server = await home.serve();
  const people = await home.signIn(server.address);
  console.log(
    '| writers | keys | acknowledged, median / 95th | on other screens | relay: acknowledged | on other screens | ratio (95th) |',
  );
  console.log('|--:|--:|---|---|---|---|--:|');
  for (const howMany of [1, 10, 50]) {
    const manuscript = `writers-${howMany}`;
    await home.keep(manuscript, doc, people);
    const places = placesIn(doc, howMany);
    const bare = await typing({ address: `http://127.0.0.1:${relayPort}`, manuscript, people, places, seconds });
    const ours = await typing({ address: server.address, manuscript, people, places, seconds });
    const ratio = percentile(ours.acknowledged, 0.95) / percentile(bare.acknowledged, 0.95);
    console.log(
      `| ${howMany} | ${ours.keys} | ${both(ours.acknowledged)} | ${both(ours.seen)} | ${both(bare.acknowledged)} | ${both(bare.seen)} | ${ratio.toFixed(1)} |`,
    );
  }
  relay.kill();
  await server.stop();
}

const join = async (address, { cookie }, manuscript) => {
  const socket = io(address, {
    path: '/api/live',
    transports: ['websocket'],
    forceNew: true,
    extraHeaders: { cookie },
  });
  await new Promise((resolve) => socket.once('connect', resolve));
  const began = performance.now();
  await socket.timeout(60_000).emitWithAck('join', { manuscript });
  const took = performance.now() - began;
  socket.disconnect();
  return took;
};

async function memory(home) {
  const server = await home.serve();
  const people = await home.signIn(server.address);
  let size = 0;
  for (let k = 0; k < 200; k++) size += await home.keep(`open-${k}`, book(8000, 500), people);
  await join(server.address, people[0], 'open-0');
  const before = server.memory();
  for (let k = 1; k < 200; k++) await join(server.address, people[0], `open-${k}`);
  await new Promise((resolve) => setTimeout(resolve, 2000));
  const each = (server.memory() - before) / 199;
  const json = size / 200;
  console.log(
    `\n200 open manuscripts of 8,000 words and 500 changes: ${(each / 1024).toFixed(0)} KB each, ${(each / json).toFixed(1)} times the size of its JSON (${(json / 1024).toFixed(0)} KB).`,
  );
  await server.stop();
}

function ruleCheck() {
  const rows = [8000, 80_000, 200_000].map((words) => {
    const doc = book(words, words / 16);
    const state = EditorState.create({ doc });
    const stamp = { author: 'me', date: '2026-11-02T09:00:00Z', newChange: () => 'mine' };
    const sender = { author: 'me', now: '2026-11-02T09:00:01Z', known: () => undefined };
    const times = [];
    for (let i = 0; i < 300; i++) {
      const [at] = placesIn(doc, 1);
      const tr = record(state, state.tr.insertText('x', at + (i % 40)), stamp);
      const began = performance.now();
      const wrong = checkBatch(doc, tr.doc, tr.steps, tr.mapping, 'pencil', sender);
      times.push(performance.now() - began);
      if (wrong) throw new Error(wrong);
    }
    return `${words.toLocaleString('en')} words ${both(times)}`;
  });
  console.log(`\nThe rule check alone, median / 95th: ${rows.join('; ')}.`);
}

async function opening(home, doc) {
  const prepare = await home.serve();
  const people = await home.signIn(prepare.address);
  await prepare.stop();
  const steps = async (manuscript, howMany) => {
    await home.keep(manuscript, doc, people, Math.floor(howMany / 500) * 500);
    await home.log(manuscript, howMany, people[0].id);
  };
  await steps('short', 10);
  await steps('long', 100_450);
  const times = { short: [], long: [] };
  for (let round = 0; round < 5; round++) {
    for (const manuscript of ['short', 'long']) {
      const server = await home.serve(); // a process that has not opened anything yet
      times[manuscript].push(await join(server.address, (await home.signIn(server.address))[0], manuscript));
      await server.stop();
    }
  }
  const [short, long] = [percentile(times.short, 0.5), percentile(times.long, 0.5)];
  console.log(
    `\nOpening 80,000 words with 5,000 changes: ${ms(short)} with 10 steps of history, ${ms(long)} with 100,450 (${(long / short).toFixed(2)} times).`,
  );
}

export async function run() {
  build(['core', 'server']);
  const home = await house(path.join(root, '.tea-pencil-test'));
  try {
    const doc = book(80_000, 5000);
    console.log(
      `One manuscript of 80,000 words with 5,000 changes; each writer presses 4 keys a second for ${seconds} s.\n`,
    );
    await writing(home, doc);
    ruleCheck();
    await memory(home);
    await opening(home, doc);
  } finally {
    await home.close();
  }
}
