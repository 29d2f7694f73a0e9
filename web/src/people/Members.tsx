import { MenuItem } from '@mui/material';
import { useNavigate } from 'react-router';
import { counted } from '@tea-pencil/core';
import type { GroupOf, Invitation, MemberOf, Rights, TakenOff } from '@tea-pencil/wire';
import { keys } from '../api/keys';
import { rightsWords, useSharing, type Colleague, type ManuscriptInfo } from '../api/queries';
import { useAsking } from '../api/use-asking';
import { useSetting } from '../api/use-setting';
import { Section } from '../kit/Section';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { PartLine } from './PartLine';
import { RightsChoice } from './RightsChoice';

const days = (until: string) => Math.max(0, Math.ceil((Date.parse(until) - Date.now()) / 86_400_000));

/** Who may do what in the manuscript; a keeper changes it. */
export function Members() {
  const { info, me } = useOpened();
  const sharing = useSharing(info.id);
  const members = sharing.data?.members ?? [];
  const of = (person: Colleague): MemberOf | undefined => members.find((one) => one.person === person.id);
  const inManuscript = info.people.filter(({ role }) => role !== null);
  const groups = sharing.data?.groups ?? [];
  // Those whom only a group brings stand in its line.
  const byGroup = new Set(groups.flatMap(({ people }) => people));
  const shown = inManuscript.filter((person) => !byGroup.has(person.id) || of(person)?.own || person.id === me.id);
  return (
    <Section title="Who may do what">
      <div className="part-lines">
        {shown.map((person) => (
          <MemberLine key={person.id} person={person} member={of(person)} />
        ))}
        {groups.map((group) => (
          <GroupLine key={group.group} group={group} info={info} />
        ))}
        {(sharing.data?.invitations ?? []).map((invitation) => (
          <InvitationLine key={invitation.id} invitation={invitation} />
        ))}
      </div>
      {sharing.isError && <p className="part-says">{sharing.error.message}</p>}
      {info.role !== 'keeper' && <p className="part-says">Only a keeper can change what people may do.</p>}
    </Section>
  );
}

function MemberLine({ person, member }: { person: Colleague; member: MemberOf | undefined }) {
  const { info, me, may, sayDone } = useOpened();
  const set = useSetting(info.id);
  const navigate = useNavigate();
  const { id, name, note, role, standing } = person;
  const isMe = id === me.id;
  const usual: Rights = { role: role!, takesAway: true, invites: false };
  const rights = member ?? usual;
  const own = member?.own ?? null;
  const give = (part: Partial<Rights>) => set('PUT', `/members/${id}`, part);
  const take = useTakingOff(`/members/${id}`);
  const remove = async () => {
    const taken = await take();
    if (!taken) return;
    if (isMe) return void navigate('/');
    const { had } = taken;
    if (had) sayDone(`${name} is not one of its people any more. What they wrote stays.`, () => void give(had));
  };
  const about = [isMe && 'you', note].filter(Boolean).join(', ');
  const away = isMe ? 'Leave this manuscript' : 'Take off';
  const changes = may.keep && standing === 'account' && (own || !member);
  return (
    <PartLine person={id} name={name} note={about}>
      {changes ? (
        <RightsChoice label={`What ${name} may do`} rights={own ?? rights} onChoose={give}>
          {(close) => (
            <MenuItem
              onClick={() => {
                close();
                void remove();
              }}
            >
              {away}
            </MenuItem>
          )}
        </RightsChoice>
      ) : (
        <span className="second" style={{ fontSize: 13 }}>
          {rightsWords(rights)}
        </span>
      )}
      {!changes && (isMe || (may.keep && standing === 'guest')) && (
        <button type="button" className="plain-button" onClick={() => void remove()}>
          {away}
        </button>
      )}
    </PartLine>
  );
}

/** Takes what was given to somebody. @returns what that was, as the server had it; null where it was refused, which is said */
function useTakingOff(path: string): () => Promise<TakenOff | null> {
  const { info } = useOpened();
  const ask = useAsking(keys.manuscript(info.id));
  return () => ask<TakenOff>('DELETE', `/manuscripts/${info.id}${path}`).catch(() => null);
}

function GroupLine({ group, info }: { group: GroupOf; info: ManuscriptInfo }) {
  const { may, sayDone } = useOpened();
  const set = useSetting(info.id);
  const names = group.people.flatMap((id) => info.people.find((one) => one.id === id)?.name ?? []);
  const path = `/groups/${group.group}`;
  const give = (part: Partial<Rights>) => set('PUT', path, part);
  const take = useTakingOff(path);
  const remove = async () => {
    const had = (await take())?.had;
    if (had) sayDone(`“${group.name}” has nothing here any more. What its people wrote stays.`, () => void give(had));
  };
  return (
    <PartLine
      person={null}
      name={group.name}
      note={`group of ${group.people.length}${names.length ? `: ${names.join(', ')}` : ''}`}
    >
      {may.keep ? (
        <RightsChoice
          label={`What ${group.name} may do`}
          rights={group}
          offered={['reader', 'remarker', 'proposer', 'decider']}
          onChoose={give}
        >
          {(close) => (
            <MenuItem
              onClick={() => {
                close();
                void remove();
              }}
            >
              Take off
            </MenuItem>
          )}
        </RightsChoice>
      ) : (
        <span className="second" style={{ fontSize: 13 }}>
          {rightsWords(group)}
        </span>
      )}
    </PartLine>
  );
}

function InvitationLine({ invitation }: { invitation: Invitation }) {
  const { info } = useOpened();
  const set = useSetting(info.id);
  const { id, mail, madeAt, endsAt, rights } = invitation;
  const note = `invited ${said(madeAt)}, runs out in ${counted(days(endsAt), 'day')}`;
  return (
    <PartLine person={null} name={mail} note={note}>
      <span className="second" style={{ fontSize: 13 }}>
        {rights && rightsWords(rights)}
      </span>
      <button type="button" className="plain-button" onClick={() => void set('DELETE', `/invitations/${id}`)}>
        Withdraw
      </button>
    </PartLine>
  );
}
