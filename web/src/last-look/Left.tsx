import { Button } from '@mui/material';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { useLastLook } from './context';
import { leftWords } from './remaining';

/** What people have left as it is, and words they have kept; each can be taken up again. */

export function Left() {
  const { may, nameOf } = useOpened();
  const { state, takeUp } = useLastLook();
  if (!state?.left.length) return <p className="look-said">Nobody has left a finding as it is.</p>;
  return (
    <ul className="look-rows">
      {state.left.map((one) => (
        <li key={one.id}>
          <span>{leftWords(one)}</span>
          <span className="second">
            {nameOf(one.by)}, {said(one.at)}
          </span>
          {may.write && (
            <Button size="small" color="inherit" onClick={() => void takeUp(one.id)}>
              Take up again
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}

const scopes = { manuscript: 'in this text', house: 'in the house', person: 'for me' } as const;

export function Words() {
  const { may, me, nameOf } = useOpened();
  const { state, letWordGo } = useLastLook();
  if (!state?.words.length) return <p className="look-said">No words are kept besides those of the dictionaries.</p>;
  return (
    <ul className="look-rows look-words">
      {state.words.map(({ id, word, scope, by, language }) => {
        const mayLetGo = scope === 'person' || (scope === 'manuscript' ? may.write : by === me.id || me.keepsHouse);
        return (
          <li key={id}>
            <span lang={language}>{word}</span>
            <span className="second">
              {scopes[scope]}
              {scope !== 'person' && `, ${nameOf(by)}`}
            </span>
            {mayLetGo && (
              <Button size="small" color="inherit" aria-label={`Let “${word}” go`} onClick={() => void letWordGo(id)}>
                Let go
              </Button>
            )}
          </li>
        );
      })}
    </ul>
  );
}
