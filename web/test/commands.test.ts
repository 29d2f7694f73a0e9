import { Acts } from '../src/commands/acts';
import { commandOf, commands, keyWords, titleOf, type Where } from '../src/commands/table';

const all = Object.entries(commands);

test('a key means one thing in one place', () => {
  for (const where of ['anywhere', 'sheet', 'read-through', 'talk margin'] satisfies Where[]) {
    const keys = all.flatMap(([, entry]) => (entry.where === where && entry.key ? [entry.key] : []));
    expect(keys.length).toBeGreaterThan(2);
    expect(new Set(keys).size).toBe(keys.length);
  }
});

test('every key with its command is found from what a keyboard tells, in its place only', () => {
  for (const [id, { key, where }] of all) {
    if (!key || where === 'sheet') continue;
    const shiftKey = key.startsWith('Shift-');
    const told = key.replace('Shift-', '');
    expect([id, commandOf({ key: told, shiftKey }, where)]).toEqual([id, id]);
    if (shiftKey || told.length > 1) continue;
    // Caps lock is no other command.
    expect([id, commandOf({ key: told.toUpperCase(), shiftKey }, where)]).toEqual([id, id]);
  }
  expect(commandOf({ key: 'j', shiftKey: false }, 'anywhere')).toBeNull();
});

test('a question mark typed with Shift is the question mark', () => {
  expect(commandOf({ key: '?', shiftKey: true }, 'anywhere')).toBe('keys');
});

test('what a button says on pointing has its key', () => {
  expect(titleOf('find')).toBe('Find and replace (F3)');
  expect(titleOf('margin')).toContain(keyWords('Shift-F4'));
  for (const [id, { key }] of all) if (key) expect(titleOf(id)).toContain(`(${keyWords(key)})`);
});

test('what is chosen from a menu is done to the text before the menu has gone, and what takes the keyboard after', () => {
  const done: string[] = [];
  const acts = new Acts({ edit: () => done.push('edited'), toText: () => done.push('in the text') });
  acts.take({ whole: () => done.push('asked') });
  let gone: (() => void) | null = null;
  const close = (then: () => void, atOnce?: () => void) => {
    atOnce?.();
    done.push('closing');
    gone = () => {
      done.push('gone');
      then();
    };
  };
  acts.choose('bulleted', close);
  expect(done).toEqual(['edited', 'closing']);
  gone!();
  expect(done.splice(0)).toEqual(['edited', 'closing', 'gone', 'in the text']);
  acts.choose('whole', close);
  expect(done).toEqual(['closing']);
  gone!();
  expect(done.slice(0, 3)).toEqual(['closing', 'gone', 'asked']);
});
