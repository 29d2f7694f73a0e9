import { useKnown, type ManuscriptInfo } from '../api/queries';

/** Someone who can be mentioned; or who would have to be invited for it. */
export interface Offer {
  id: string;
  name: string;
  note: string | null;
  invites: boolean;
}

const begins = (name: string, words: string) => {
  const sought = words.toLowerCase();
  const all = name.toLowerCase();
  return all.startsWith(sought) || all.split(/\s+/).some((part) => part.startsWith(sought));
};

/** The people of the manuscript whose names begin so. */
export const offersFor = (info: ManuscriptInfo, me: string, words: string): Offer[] =>
  info.people
    .filter(({ id, role, name }) => role && id !== me && begins(name, words))
    .map(({ id, name, note }) => ({ id, name, note, invites: false }));

interface Props {
  id: string;
  offers: readonly Offer[];
  at: number;
  words: string;
  keeper: boolean;
  onChoose(offer: Offer): void;
}

/** Names to choose from, under the field; who is none of the people can be invited by a keeper. */
export function NamePicker({ id, offers, at, words, keeper, onChoose }: Props) {
  return (
    <div className="name-picker">
      {offers.length > 0 && (
        <div id={id} role="listbox" aria-label="People to mention">
          {offers.map((offer, i) => (
            <div
              key={offer.id}
              id={`${id}-${i}`}
              role="option"
              aria-selected={i === at}
              className={i === at ? 'chosen' : ''}
              onMouseDown={(event) => {
                event.preventDefault();
                onChoose(offer);
              }}
            >
              <span className="dot" data-author={offer.id} />
              {offer.name} {offer.note && <span className="second">{offer.note}</span>}
            </div>
          ))}
        </div>
      )}
      {!offers.length && <Strangers words={words} keeper={keeper} onChoose={onChoose} />}
    </div>
  );
}

/** Others with an account, where nobody of the manuscript is meant. */
function Strangers({ words, keeper, onChoose }: Pick<Props, 'words' | 'keeper' | 'onChoose'>) {
  const known = useKnown();
  const found = keeper && words ? (known.data ?? []).filter(({ name }) => begins(name, words)) : [];
  if (!found.length)
    return (
      <div className="second">
        Nobody of that name is among this manuscript’s people.{keeper ? '' : ' A keeper can invite people.'}
      </div>
    );
  return (
    <>
      <div className="second">Not among this manuscript’s people yet:</div>
      {found.map(({ id, name, note }) => (
        <button
          key={id}
          type="button"
          className="invite"
          onMouseDown={(event) => {
            event.preventDefault();
            onChoose({ id, name, note, invites: true });
          }}
        >
          Invite {name}, who then may remark
        </button>
      ))}
    </>
  );
}
