import { Fragment, type Mark, type Node } from 'prosemirror-model';
import { schema } from '../manuscript/schema.js';
import type { Plan, Target } from '../row/plan.js';

interface Begun {
  opening: Pick<Target, 'node' | 'attrs' | 'marks'>;
  content: Node[];
}

const keepPlain = () => {
  const node = schema.nodes.paragraph.create();
  return { node, attrs: node.attrs, marks: node.marks };
};

/** The blocks that a plan makes, where it says of every token of whole blocks what becomes of it. */
export function assembled({ targets }: Plan): Node[] {
  const blocks: Node[] = [];
  let paragraph = null as Begun | null;
  /** Where words stand behind a table they have a paragraph of their own. */
  const within = (): Node[] => (paragraph ??= { opening: keepPlain(), content: [] }).content;
  let text = '';
  let marks: readonly Mark[] = [];
  const endText = () => {
    if (text) within().push(schema.text(text, marks));
    text = '';
  };
  const endParagraph = () => {
    endText();
    if (!paragraph) return;
    const { node, attrs, marks: borne } = paragraph.opening;
    blocks.push(node.type.create(attrs, Fragment.fromArray(paragraph.content), borne));
    paragraph = null;
  };
  for (const target of targets) {
    if (target.kind === 'opening') {
      endParagraph();
      paragraph = { opening: target, content: [] };
    } else if (target.kind === 'letter') {
      if (target.marks !== marks) endText();
      text += target.text;
      marks = target.marks;
    } else {
      if (target.kind === 'block') endParagraph();
      else endText();
      (target.kind === 'block' ? blocks : within()).push(whole(target));
    }
  }
  endParagraph();
  return blocks;
}

function whole({ node, attrs, marks, inside }: Target): Node {
  const content = inside ? Fragment.fromArray(inside.flatMap(assembled)) : node.content;
  return node.type.create(attrs, content, marks);
}
