import { Box, Button, LinearProgress } from '@mui/material';
import { useEffect } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { counted, languageName } from '@tea-pencil/core';
import { keys } from '../api/keys';
import { useStyle, useStyles } from '../api/last-look';
import { useAsking } from '../api/use-asking';
import { Message } from '../kit/Message';
import { Section } from '../kit/Section';
import { said } from '../kit/time';
import { TopBar } from '../people/TopBar';
import { StyleEditor } from './StyleEditor';

/** The house styles, and one of them with its rules. */
export default function StylesPage() {
  const { style } = useParams();
  useEffect(() => {
    document.title = 'House styles · Tea Pencil';
  }, []);
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar title="House styles" />
      {style ? <One key={style} id={style} /> : <List />}
    </Box>
  );
}

function One({ id }: { id: string }) {
  const style = useStyle(id);
  if (style.isPending)
    return (
      <main className="styles">
        <h1 className="heard-only">House style</h1>
        <LinearProgress aria-label="The style is being fetched" />
      </main>
    );
  if (style.isError)
    return <Message title="This style cannot be shown" text={style.error.message} again={() => void style.refetch()} />;
  return <StyleEditor key={style.data.version} style={style.data} />;
}

function List() {
  const styles = useStyles();
  const navigate = useNavigate();
  const ask = useAsking(keys.styles);
  const make = async () => {
    const empty = { name: 'A new style', language: 'en-GB', rules: [] };
    const { id } = await ask<{ id: string }>('POST', '/styles', empty);
    void navigate(`/styles/${id}`);
  };
  return (
    <main className="parts">
      <h1 className="heard-only">House styles</h1>
      {styles.isPending && <LinearProgress aria-label="The styles are being fetched" />}
      {styles.isError && (
        <Message title="The styles cannot be shown" text={styles.error.message} again={() => void styles.refetch()} />
      )}
      <div className="parts-columns single">
        <Section
          title="House styles"
          says="How words, numbers and signs are written in this house. A manuscript follows one if its keepers choose it, on its page Last look."
          beside={
            <Button variant="contained" onClick={() => void make().catch(() => undefined)}>
              Begin a style
            </Button>
          }
        >
          {styles.data?.length === 0 && <p className="look-said">There is none yet.</p>}
          <div className="part-lines">
            {styles.data?.map(({ id, name, language, rules, version, at, manuscripts }) => (
              <div key={id} className="part-line">
                <Link to={`/styles/${id}`}>{name}</Link>
                <span className="second">
                  {languageName(language)}, {counted(rules, 'rule')}, version {version}, {said(at)}
                  {manuscripts > 0 && `, followed by ${counted(manuscripts, 'manuscript')} of yours`}
                </span>
              </div>
            ))}
          </div>
        </Section>
      </div>
    </main>
  );
}
