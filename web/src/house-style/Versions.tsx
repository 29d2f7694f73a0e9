import { Button } from '@mui/material';
import { useSnackbar } from 'notistack';
import { counted, type HouseStyle } from '@tea-pencil/core';
import type { StyleWhole } from '@tea-pencil/wire';
import { keys } from '../api/keys';
import { styleAt, useStyleVersions } from '../api/last-look';
import { useAsking } from '../api/use-asking';
import { Section } from '../kit/Section';
import { said } from '../kit/time';

interface Props {
  style: StyleWhole;
  /** Puts the rules of an older version in the table. */
  onTake(style: HouseStyle): void;
  onGone(): void;
}

/** The versions of a style: nothing that was kept is ever lost. */
export function Versions({ style, onTake, onGone }: Props) {
  const { id, version, mayChange } = style;
  const versions = useStyleVersions(id);
  const ask = useAsking(keys.styles);
  const { enqueueSnackbar: say } = useSnackbar();
  const take = async (n: number) => {
    try {
      onTake(await styleAt(id, n));
    } catch (problem) {
      say((problem as Error).message);
    }
  };
  return (
    <div style={{ marginTop: 28 }}>
      <Section title="Versions">
        <ul className="style-versions">
          {versions.data?.map(({ version: n, byName, at, rules }) => (
            <li key={n}>
              <span>Version {n}</span>
              <span className="second">
                {byName}, {said(at)}, {counted(rules, 'rule')}
              </span>
              {mayChange && n !== version && (
                <Button size="small" color="inherit" onClick={() => void take(n)}>
                  Its rules again
                </Button>
              )}
            </li>
          ))}
        </ul>
        {mayChange && (
          <Button
            color="inherit"
            sx={{ mt: 1, color: 'text.secondary' }}
            onClick={() => void ask('DELETE', `/styles/${id}`, undefined, onGone).catch(() => undefined)}
          >
            Do away with this style
          </Button>
        )}
      </Section>
    </div>
  );
}
