import type { Node } from 'prosemirror-model';
import { NodeSelection } from 'prosemirror-state';
import type { EditorView, NodeView } from 'prosemirror-view';
import { changePicture } from '@tea-pencil/core';
import { pictureAddress } from '../../api/client';

/** The narrowest a picture can be drawn, in pixels. */
const narrowest = 24;

/** A picture in the text. While it is selected, its corner can be drawn to make it larger or smaller. */
export class PictureView implements NodeView {
  readonly dom = document.createElement('span');
  readonly #picture = document.createElement('img');
  #node: Node;

  constructor(
    node: Node,
    readonly view: EditorView,
    readonly position: () => number | undefined,
  ) {
    this.#node = node;
    this.dom.className = 'picture';
    const corner = document.createElement('span');
    corner.className = 'picture-corner';
    corner.setAttribute('aria-hidden', 'true');
    corner.addEventListener('pointerdown', (event) => this.#resize(event, corner));
    this.#picture.draggable = false;
    this.#picture.addEventListener('error', () => this.dom.classList.add('missing'));
    this.dom.append(this.#picture, corner);
    this.#draw();
  }

  #draw(): void {
    const { asset, alt, width, height } = this.#node.attrs as {
      asset: string;
      alt: string;
      width: number | null;
      height: number | null;
    };
    const source = pictureAddress(asset);
    if (this.#picture.getAttribute('src') !== source) {
      this.dom.classList.remove('missing');
      this.#picture.src = source;
    }
    this.#picture.alt = alt;
    for (const [name, value] of Object.entries({ width, height })) {
      if (value === null) this.#picture.removeAttribute(name);
      else this.#picture.setAttribute(name, String(value));
    }
  }

  update(node: Node): boolean {
    if (node.type !== this.#node.type) return false;
    this.#node = node;
    this.#draw();
    return true;
  }

  #resize(event: PointerEvent, corner: HTMLElement): void {
    if (!this.view.editable) return;
    event.preventDefault();
    event.stopPropagation();
    const { width, height } = this.#picture.getBoundingClientRect();
    const start = event.clientX;
    corner.setPointerCapture(event.pointerId);
    const sizeAt = (x: number) => {
      const wide = Math.round(Math.max(narrowest, width + x - start));
      return { width: wide, height: Math.max(1, Math.round((wide * height) / width)) };
    };
    const draw = ({ clientX }: PointerEvent) => {
      const size = sizeAt(clientX);
      this.#picture.setAttribute('width', String(size.width));
      this.#picture.setAttribute('height', String(size.height));
    };
    const done = ({ clientX }: PointerEvent) => {
      corner.removeEventListener('pointermove', draw);
      corner.removeEventListener('pointerup', done);
      const pos = this.position();
      if (pos === undefined) return;
      const { state } = this.view;
      this.view.dispatch(state.tr.setSelection(NodeSelection.create(state.doc, pos)));
      changePicture(sizeAt(clientX))(this.view.state, this.view.dispatch);
    };
    corner.addEventListener('pointermove', draw);
    corner.addEventListener('pointerup', done);
  }

  stopEvent = (event: Event): boolean => (event.target as HTMLElement).classList.contains('picture-corner');
  ignoreMutation = (): boolean => true;
}
