import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Switch,
} from '@mui/material';
import type { ManuscriptInfo } from '../api/queries';
import { useCommands } from '../commands/acts';
import { usePopRule } from '../kit/focus';
import { LanguageChoice } from '../kit/LanguageChoice';
import { useStore } from '../kit/store';
import { show, useLooking, useOpened } from '../opened/opened';
import { useMode } from '../theme/mode';
import { hueOf, howManyHues } from '../theme/hues';
import { Members } from './Members';
import { OwnHuesChoice } from './OwnHues';
import { Outsiders, outsidersOf } from './Outsiders';
import { useSetting } from '../api/use-setting';

const Heading = ({ children }: { children: string }) => (
  <Box sx={{ mt: 2.5, mb: 0.5, fontWeight: 600 }}>{children}</Box>
);

/** The hue in which everyone sees what one writes here. */
function MyHue({ info, me }: { info: ManuscriptInfo; me: string }) {
  const { mode } = useMode();
  const set = useSetting(info.id);
  const mine = info.people.find(({ id }) => id === me);
  const others = new Set(info.people.filter(({ is }) => is !== me).map(({ hue }) => hue % howManyHues));
  return (
    <Box role="radiogroup" aria-label="Your hue" sx={{ display: 'flex', gap: 1, py: 0.5 }}>
      {Array.from({ length: howManyHues }, (_, hue) => (
        <button
          key={hue}
          type="button"
          role="radio"
          className="swatch"
          aria-checked={mine ? mine.hue % howManyHues === hue : false}
          aria-label={`Hue ${hue + 1}${others.has(hue) ? ', somebody else has it' : ''}`}
          title={others.has(hue) ? 'Somebody else has this hue' : undefined}
          style={{ background: hueOf(hue, mode).line }}
          onClick={() => void set('PUT', '/hue', { hue })}
        />
      ))}
    </Box>
  );
}

/** The people of a manuscript and what is set for it; a keeper changes it, others see it. */
export function PeopleDialog() {
  const opened = useOpened();
  const { info, me, may, panels } = opened;
  const { ownHues, setOwnHues } = useLooking();
  const open = useStore(panels, (all) => all.has('people'));
  const { onExited } = usePopRule();
  const onClose = () => show(opened, 'people', false);
  useCommands({ people: () => show(opened, 'people') });
  const set = useSetting(info.id);
  const { keep: keeper } = may;
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" slotProps={{ transition: { onExited } }}>
      <DialogTitle>People of “{info.title}”</DialogTitle>
      <DialogContent>
        <Members info={info} keeper={keeper} />
        {keeper && outsidersOf(info).length > 0 && (
          <>
            <Heading>Named in the file</Heading>
            <Outsiders info={info} />
          </>
        )}
        <Heading>How edits go in</Heading>
        <FormControlLabel
          disabled={!keeper}
          control={
            <Switch
              checked={info.everyoneInPencil}
              onChange={(_, everyoneInPencil) => void set('PATCH', '', { everyoneInPencil })}
            />
          }
          label="Everyone in pencil: no one uses ink, so nothing goes in unrecorded"
        />
        <Heading>Language</Heading>
        <LanguageChoice
          label="Language of the manuscript"
          value={info.language}
          disabled={!keeper}
          onChoose={(language) => void set('PATCH', '', { language })}
        />
        <Box className="second" sx={{ mt: 0.5 }}>
          Of quotation marks, spelling in the browser and screen readers; single words can be in another (Colour, above
          the sheet).
        </Box>
        <Heading>Your hue, for everyone here</Heading>
        <MyHue info={info} me={me.id} />
        <Heading>Hues for your own eyes</Heading>
        <OwnHuesChoice info={info} own={ownHues} onOwn={setOwnHues} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} variant="contained">
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
