import { FormControlLabel, Switch } from '@mui/material';
import { useSetting } from '../api/use-setting';
import { LanguageChoice } from '../kit/LanguageChoice';
import { Section } from '../kit/Section';
import { useLooking, useOpened } from '../opened/opened';
import { hueOf, howManyHues } from '../theme/hues';
import { useMode } from '../theme/mode';
import { GuestLinks } from './GuestLinks';
import { Invite } from './Invite';
import { Members } from './Members';
import { Outsiders, outsidersOf } from './Outsiders';
import { OwnHuesChoice } from './OwnHues';
import { SealPart } from './SealPart';

/** The hue in which everyone sees what one writes here. */
function MyHue() {
  const { info, me } = useOpened();
  const { mode } = useMode();
  const set = useSetting(info.id);
  const mine = info.people.find(({ id }) => id === me.id);
  const others = new Set(info.people.filter(({ is }) => is !== me.id).map(({ hue }) => hue % howManyHues));
  return (
    <div role="radiogroup" aria-label="Your hue" className="swatches">
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
    </div>
  );
}

/** The people of a manuscript, and what is set for it; a keeper changes it, others see it. */
export default function PeoplePage() {
  const { info, may } = useOpened();
  const { ownHues, setOwnHues } = useLooking();
  const set = useSetting(info.id);
  const { keep: keeper } = may;
  const hues = (
    <>
      <Section title="Your hue" says="In it everyone here sees what you write.">
        <MyHue />
      </Section>
      <Section title="Hues for your own eyes">
        <OwnHuesChoice info={info} own={ownHues} onOwn={setOwnHues} />
      </Section>
    </>
  );
  /** Whether nothing of sharing stands beside the people. */
  const isShort = !keeper && !info.invites && !info.seal;
  return (
    <main className="parts">
      <h1 className="heard-only">People of “{info.title}”</h1>
      <div className="parts-columns">
        <div>
          <Members />
          {keeper && outsidersOf(info).length > 0 && (
            <Section
              title="Named in the file"
              says="Where one of them is one of this manuscript’s people, say so: what they wrote goes under that name."
            >
              <Outsiders info={info} />
            </Section>
          )}
        </div>
        <div className="parts-side">
          <SealPart />
          {keeper && <GuestLinks />}
          {(keeper || info.invites) && <Invite />}
          {isShort && hues}
        </div>
        <div>
          <Section title="How edits go in">
            <FormControlLabel
              disabled={!keeper}
              sx={{ mt: 0.5 }}
              control={
                <Switch
                  checked={info.everyoneInPencil}
                  onChange={(_, everyoneInPencil) => void set('PATCH', '', { everyoneInPencil })}
                />
              }
              label="Everyone in pencil: no one uses ink, so nothing goes in unrecorded"
            />
          </Section>
          <Section
            title="Language"
            says="Of quotation marks, spelling in the browser and screen readers; single words can be in another (Colour, above the sheet)."
          >
            <LanguageChoice
              label="Language of the manuscript"
              value={info.language}
              disabled={!keeper}
              onChoose={(language) => void set('PATCH', '', { language })}
            />
          </Section>
          {isShort || hues}
        </div>
      </div>
    </main>
  );
}
