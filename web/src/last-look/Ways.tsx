import { Button, Tooltip } from '@mui/material';
import { useMemo } from 'react';
import type { Inconsistency } from '@tea-pencil/core';
import { useOpened } from '../opened/opened';
import { useLastLook } from './context';

/** What the text writes in several ways: either can be made the one, as a sweep in pencil. */

const nameOf = ({ such, what }: Inconsistency) =>
  such.startsWith('mixed')
    ? `Two kinds of ${what}`
    : what.startsWith('“')
      ? `${what} in two ways`
      : `Two ways of writing ${what}`;

const shown = (form: string) => (form.trim() === form ? form : `a${form}b`);

/** Whether all such are left. */
export function useWays(): readonly Inconsistency[] {
  const { inconsistencies, state } = useLastLook();
  return useMemo(() => {
    const left = new Set(state?.left.flatMap((one) => (one.all ? [one.key] : [])));
    return inconsistencies.filter(({ such }) => !left.has(such));
  }, [inconsistencies, state]);
}

export function Ways() {
  const { may } = useOpened();
  const { unify, leave, found } = useLastLook();
  const ways = useWays();
  if (!ways.length) return <p className="look-said">Nothing is written in two ways.</p>;
  return (
    <ul className="look-ways">
      {ways.map((one) => {
        const { such, forms } = one;
        const all = forms.reduce((sum, { many }) => sum + many, 0);
        const example = found.find((finding) => finding.such === such);
        return (
          <li key={such}>
            <div className="ways-name">{nameOf(one)}</div>
            <div className="ways-forms">
              {forms.map(({ form, many }) => (
                <span key={form} className="ways-form">
                  <span className="ways-words">{shown(form)}</span>
                  <span className="second">{many === 1 ? 'once' : `${many} times`}</span>
                  {may.write && (
                    <Tooltip title="As one sweep in pencil: it can be decided as one, or place by place">
                      <Button size="small" variant="outlined" color="inherit" onClick={() => void unify(such, form)}>
                        {all - many === 1 ? 'Write the other so too' : `Write the other ${all - many} so too`}
                      </Button>
                    </Tooltip>
                  )}
                </span>
              ))}
              {may.write && example && (
                <Button
                  size="small"
                  color="inherit"
                  onClick={() => void leave(example, true)}
                  sx={{ color: 'text.secondary' }}
                >
                  Both are right
                </Button>
              )}
            </div>
          </li>
        );
      })}
    </ul>
  );
}
