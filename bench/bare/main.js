import { baseKeymap } from 'prosemirror-commands';
import { keymap } from 'prosemirror-keymap';
import { Node } from 'prosemirror-model';
import { EditorState } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import { schema } from '@tea-pencil/core';
import '../../web/src/theme/sheet.css';

/** An editor of the same text with the same looks and nothing else: no recording, no margins, no server. */
const doc = Node.fromJSON(schema, await (await fetch('/book.json')).json());
new EditorView(document.querySelector('.sheet'), {
  state: EditorState.create({ doc, plugins: [keymap(baseKeymap)] }),
});
