import { memo, type ReactNode } from 'react';
import { itemNumbers, type Remark, type RemarkPiece } from '@tea-pencil/core';

function Piece({ piece, nameOf }: { piece: RemarkPiece; nameOf(person: string): string }): ReactNode {
  if (piece.type === 'mention') return <span className="mention">@{nameOf(piece.attrs.person)}</span>;
  return (piece.marks ?? []).reduceRight<ReactNode>((inner, { type, attrs }) => {
    if (type === 'bold') return <strong>{inner}</strong>;
    if (type === 'italic') return <em>{inner}</em>;
    return (
      <a
        href={attrs?.href}
        target="_blank"
        rel="noopener noreferrer nofollow"
        onClick={(event) => event.stopPropagation()}
      >
        {inner}
      </a>
    );
  }, piece.text);
}

/** What a comment says. */
export const RemarkView = memo(function RemarkView({
  remark,
  nameOf,
}: {
  remark: Remark;
  nameOf(person: string): string;
}) {
  const numbers = itemNumbers(remark);
  return (
    <div className="remark">
      {remark.content.map(({ attrs, content = [] }, i) => (
        <p
          key={i}
          className={attrs.list ? `remark-${attrs.list}` : undefined}
          {...(attrs.list === 'number' && { 'data-number': `${numbers[i]}.` })}
        >
          {content.map((piece, k) => (
            <Piece key={k} piece={piece} nameOf={nameOf} />
          ))}
        </p>
      ))}
    </div>
  );
});
