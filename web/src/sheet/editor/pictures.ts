import { DOMSerializer } from 'prosemirror-model';
import type { NodeSelection } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { changePicture, insertPicture, schema } from '@tea-pencil/core';
import type { AddedPicture } from '@tea-pencil/wire';
import { pictureAddress, request, sendFile } from '../../api/client';
import type { LiveText } from '../../live/live-text';
import { forLater } from './put-later';

/** Pictures from the person's own files, sent to the server before they stand in the text. */

/** The widest a new picture is drawn: the sheet's lines. */
const widest = 516;

/** A picture's size on the sheet. */
function sized({ width, height }: AddedPicture) {
  const scale = Math.min(1, widest / width);
  return { width: Math.round(width * scale), height: Math.max(1, Math.round(height * scale)) };
}

export class Pictures {
  constructor(
    readonly text: LiveText,
    readonly say: (sentence: string) => void,
    /** Says what was done, with a way to have it otherwise. */
    readonly offer: (sentence: string, act: () => void, label: string) => void,
  ) {}

  async #send(file: File): Promise<AddedPicture | null> {
    try {
      const path = `/manuscripts/${this.text.manuscript}/pictures`;
      return await sendFile<AddedPicture>(path, file, () => undefined, new AbortController().signal);
    } catch (problem) {
      this.say((problem as Error).message);
      return null;
    }
  }

  /** Puts pictures where the caret is, in their order, once the server has them. */
  async insert(view: EditorView, files: readonly File[]): Promise<void> {
    const put = forLater(view, this);
    const commands = await Promise.all(
      files.map(async (file) => {
        const added = await this.#send(file);
        const alt = file.name.replace(/\.[^.]*$/, '').replace(/[-_]+/g, ' ');
        return added ? [insertPicture({ asset: added.asset, alt, ...sized(added) })] : [];
      }),
    );
    put(...commands.flat());
  }

  /** Puts another picture in the place of the selected one, wherever that has gone while the file was sent. */
  async replace(view: EditorView, file: File): Promise<void> {
    const put = forLater(view, this);
    const added = await this.#send(file);
    if (!added) return put();
    put((state, dispatch) => {
      const { node } = state.selection as NodeSelection;
      if (node?.type.name === 'image') return changePicture({ asset: added.asset, ...sized(added) })(state, dispatch);
      this.say('The picture was removed while its replacement was sent.');
      return false;
    });
  }

  /** Takes over pictures that a pasted passage has from another manuscript; those that cannot be are left out by name. */
  async takeOver(asset: string): Promise<string | null> {
    try {
      const path = `/manuscripts/${this.text.manuscript}/pictures/copy`;
      return (await request<{ asset: string }>('POST', path, { asset })).asset;
    } catch {
      return null;
    }
  }
}

/** How a passage is written for the clipboard: with the addresses of its pictures. */
export const clipboardSerializer = new DOMSerializer(
  {
    ...DOMSerializer.nodesFromSchema(schema),
    image: ({ attrs: { asset, alt, width, height } }) => [
      'img',
      { 'data-asset': asset, src: pictureAddress(String(asset)), alt, width, height },
    ],
  },
  DOMSerializer.marksFromSchema(schema),
);

/** The pictures among the files that someone pastes or drops. */
export const picturesIn = (data: DataTransfer | null): File[] =>
  [...(data?.files ?? [])].filter(({ type }) => type.startsWith('image/'));
