import { Button, TextField } from '@mui/material';
import { useSnackbar } from 'notistack';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { counted, styleRows, writeCsv, type HouseStyle, type Rule } from '@tea-pencil/core';
import type { RulesRead, StyleWhole } from '@tea-pencil/wire';
import { FileChooser } from '../kit/FileChooser';
import { keepFile, request } from '../api/client';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { LanguageChoice } from '../kit/LanguageChoice';
import { unkept } from '../kit/unkept';
import { newRule, RulesTable } from './RulesTable';
import { useTried } from './use-tried';
import { Versions } from './Versions';

/** Of thousands of rules most are the very same ones. */
const sameRules = (a: readonly Rule[], b: readonly Rule[]): boolean =>
  a.length === b.length && a.every((rule, i) => rule === b[i] || JSON.stringify(rule) === JSON.stringify(b[i]));

type Unkept = HouseStyle & { since: number };

/** One style: its rules, to be read or changed; kept as a new version each time. */
export function StyleEditor({ style }: { style: StyleWhole }) {
  const { id, version, mayChange } = style;
  const key = `style ${id}`;
  // Rules that were changed stay those of the version that they were begun on, whatever others keep meanwhile.
  const [begun] = useState(() => unkept.of<Unkept>(key) ?? { ...style, since: version });
  const [name, setName] = useState(begun.name);
  const [language, setLanguage] = useState(begun.language);
  const [rules, setRules] = useState<Rule[]>(begun.rules);
  const { enqueueSnackbar: say } = useSnackbar();
  const ask = useAsking(keys.styles);
  const navigate = useNavigate();
  const tried = useTried(rules, language);
  const now = useMemo((): HouseStyle => ({ name: name.trim(), language, rules }), [name, language, rules]);
  const changed = now.name !== style.name || language !== style.language || !sameRules(rules, style.rules);
  const { since } = begun;
  useEffect(() => unkept.set(key, changed ? ({ ...now, since } satisfies Unkept) : null), [key, changed, now, since]);
  const wrong = tried.problems.length;
  const keep = async () => {
    await ask('PUT', `/styles/${id}`, { ...now, since }, () => unkept.set(key, null));
    say('Kept as a new version.');
  };
  const takeAway = (ending: 'json' | 'csv') => {
    const text = ending === 'json' ? `${JSON.stringify(now, null, 2)}\n` : writeCsv(styleRows(now));
    const type = ending === 'json' ? 'application/json' : 'text/csv';
    keepFile(`${now.name || 'style'}.${ending}`, new Blob([text], { type: `${type};charset=utf-8` }));
  };
  return (
    <main className="styles">
      <div className="styles-inner">
        <h1 className="heard-only">{style.name}</h1>
        <div className="styles-head">
          <Link to="/styles">All styles</Link>
          {mayChange ? (
            <>
              <TextField
                size="small"
                label="Name"
                value={name}
                onChange={(event) => setName(event.target.value)}
                sx={{ width: 300 }}
                slotProps={{ htmlInput: { maxLength: 120 } }}
              />
              <LanguageChoice
                label="Language of the style"
                value={language}
                onChoose={(tag) => setLanguage(tag ?? 'en-GB')}
              />
            </>
          ) : (
            <h2 className="serif">{style.name}</h2>
          )}
          <span className="second" role="status">
            {counted(rules.length, 'rule')}, version {version}
            {changed && ', changed and not kept yet'}
          </span>
          <span className="styles-space" />
          <Button color="inherit" onClick={() => takeAway('json')}>
            As JSON
          </Button>
          <Button color="inherit" onClick={() => takeAway('csv')}>
            As CSV
          </Button>
          {mayChange && (
            <>
              <BringIn onRead={(read) => setRules(read)} />
              <Button
                variant="contained"
                disabled={!changed || !now.name || wrong > 0}
                onClick={() => void keep().catch(() => undefined)}
              >
                Keep
              </Button>
            </>
          )}
        </div>
        {!mayChange && <p className="second">Only who made this style, or a keeper of the house, can change it.</p>}
        {wrong > 0 && (
          <p className="look-problem" role="alert">
            {wrong === 1 ? 'One thing is wrong' : `${wrong} things are wrong`} with these rules; they stand beside them.
            They can be kept when that is put right.
          </p>
        )}
        <RulesTable rules={rules} tried={tried} mayChange={mayChange} onChange={setRules} />
        {rules.length === 0 && <p className="look-said">This style has no rules yet.</p>}
        {mayChange && (
          <Button color="inherit" onClick={() => setRules([...rules, newRule])} sx={{ mt: 1 }}>
            Add a rule
          </Button>
        )}
        <Versions
          style={style}
          onTake={(old) => {
            setName(old.name);
            setLanguage(old.language);
            setRules(old.rules);
            say('Its rules stand in the table. Keep them to make them the newest version.');
          }}
          onGone={() => {
            unkept.set(key, null);
            void navigate('/styles');
          }}
        />
      </div>
    </main>
  );
}

/** Rules from a file take the place of those in the table; nothing is kept by that alone. */
function BringIn({ onRead }: { onRead(rules: Rule[]): void }) {
  const input = useRef<HTMLInputElement>(null);
  const { enqueueSnackbar: say } = useSnackbar();
  const read = async (file: File) => {
    try {
      const text = (await file.text()).replace(/\r\n?/g, '\n');
      const { rules } = await request<RulesRead>('POST', '/styles/read', { text });
      onRead(rules);
      say(`${counted(rules.length, 'rule')} from the file. Keep them to make them the newest version.`);
    } catch (problem) {
      say((problem as Error).message);
    }
  };
  return (
    <>
      <Button color="inherit" onClick={() => input.current?.click()}>
        Bring in …
      </Button>
      <FileChooser
        ref={input}
        accept=".json,.csv,application/json,text/csv"
        label="A file with rules"
        onChoose={([file]) => void read(file!)}
      />
    </>
  );
}
