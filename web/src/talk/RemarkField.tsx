import type { EditorView } from 'prosemirror-view';
import type { Command, EditorState } from 'prosemirror-state';
import { useEffectEvent, useId, useLayoutEffect, useRef, useState } from 'react';
import { isSafeAddress, type Remark } from '@tea-pencil/core';
import { NamePicker, offersFor, type Offer } from './NamePicker';
import { remarkEditor } from './remark-editor';
import {
  askedName,
  isOn,
  mention,
  remarkIn,
  remarkState,
  setRemarkLink,
  toggleBold,
  toggleItalic,
  toggleLine,
  type Asked,
} from './remark-state';
import { useOpened } from '../opened/opened';
import { useTalkContext } from './context';

interface Props {
  label: string;
  initial?: Remark;
  autoFocus?: boolean;
  /** A note to oneself mentions nobody. */
  alone?: boolean;
  onChange(remark: Remark): void;
  onSend(): void;
  onLeave?: (() => void) | undefined;
}

/** A field for light rich text, with a picker of names after `@`. */
export function RemarkField({ label, initial, autoFocus, alone = false, onChange, onSend, onLeave }: Props) {
  const {
    info,
    me: { id: me },
    nameOf,
  } = useOpened();
  const { invite } = useTalkContext();
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const [state, setState] = useState<EditorState | null>(null);
  const [closed, setClosed] = useState<Asked | null>(null);
  const [chosen, setChosen] = useState(0);
  const [writing, setWriting] = useState(false);
  const [linking, setLinking] = useState(false);
  const list = useId();
  const name = useEffectEvent(nameOf);

  const found = state && writing && !alone ? askedName(state) : null;
  const asked = found && closed?.from !== found.from ? found : null;
  const offers = asked ? offersFor(info, me, asked.words) : [];
  const at = Math.min(chosen, Math.max(0, offers.length - 1));

  const run = (command: Command) => {
    if (!view.current) return;
    command(view.current.state, view.current.dispatch);
    view.current.focus();
  };
  const choose = (offer: Offer | undefined) => {
    if (!offer || !asked) return;
    run(mention(offer.id, asked));
    setChosen(0);
    if (offer.invites) void invite(offer.id);
  };
  const keyDown = useEffectEvent((event: KeyboardEvent): boolean => {
    event.stopPropagation();
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      onSend();
      return true;
    }
    if (asked && offers.length) {
      if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        setChosen((at + (event.key === 'ArrowDown' ? 1 : offers.length - 1)) % offers.length);
        return true;
      }
      if (event.key === 'Enter' || event.key === 'Tab') {
        choose(offers[at]);
        return true;
      }
    }
    if (event.key === 'Escape') {
      if (asked) setClosed(asked);
      else if (onLeave) onLeave();
      else return false;
      return true;
    }
    return false;
  });
  const changed = useEffectEvent((now: EditorState, byHand: boolean) => {
    setState(now);
    if (byHand) onChange(remarkIn(now));
  });

  useLayoutEffect(() => {
    if (!place.current) return;
    const made = remarkEditor(place.current, remarkState(initial), {
      changed,
      keyDown,
      writing: setWriting,
      nameOf: (person) => name(person),
    });
    view.current = made;
    changed(made.state, false);
    if (autoFocus) made.focus();
    return () => {
      made.destroy();
      view.current = null;
    };
    // The field begins with what is given once; afterwards what is in it is the writer's.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  useLayoutEffect(() => {
    view.current?.setProps({
      attributes: {
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': label,
        'aria-autocomplete': 'list',
        ...(offers.length && { 'aria-controls': list, 'aria-activedescendant': `${list}-${at}` }),
      },
    });
  }, [label, list, at, offers.length]);

  return (
    <div className="remark-field">
      <div
        ref={place}
        className={`remark remark-editor${state && !state.doc.textContent && state.doc.childCount === 1 && !state.doc.firstChild!.childCount ? ' blank' : ''}`}
        data-label={label}
      />
      {asked && (
        <NamePicker
          id={list}
          offers={offers}
          at={at}
          words={asked.words}
          keeper={info.role === 'keeper'}
          onChoose={choose}
        />
      )}
      {linking ? (
        <LinkField
          onKeep={(href) => {
            run(setRemarkLink(href || null));
            setLinking(false);
          }}
          onLeave={() => {
            setLinking(false);
            view.current?.focus();
          }}
        />
      ) : (
        <Tools state={state} run={run} onLink={() => setLinking(true)} mentions={!alone} />
      )}
    </div>
  );
}

/** How the selected words look. */
function Tools({
  state,
  run,
  onLink,
  mentions,
}: {
  state: EditorState | null;
  run(command: Command): void;
  onLink(): void;
  mentions: boolean;
}) {
  const tool = (title: string, face: React.ReactNode, command: Command, pressed?: boolean) => (
    <button
      type="button"
      className="remark-tool"
      title={title}
      aria-label={title}
      aria-pressed={pressed}
      onMouseDown={(event) => event.preventDefault()}
      onClick={() => run(command)}
    >
      {face}
    </button>
  );
  return (
    <div className="remark-tools" role="toolbar" aria-label="How the words look">
      {tool('Bold', <b>B</b>, toggleBold, !!state && isOn(state, 'bold'))}
      {tool('Italic', <i className="serif">I</i>, toggleItalic, !!state && isOn(state, 'italic'))}
      {tool('Bulleted list', '•', toggleLine('bullet'))}
      {tool('Numbered list', '1.', toggleLine('number'))}
      <button
        type="button"
        className="remark-tool"
        title="Make the selected words a link"
        disabled={!state || state.selection.empty}
        onMouseDown={(event) => event.preventDefault()}
        onClick={() => (state && isOn(state, 'link') ? run(setRemarkLink(null)) : onLink())}
      >
        link
      </button>
      {mentions && <span className="remark-hint">@ mentions</span>}
    </div>
  );
}

/** The address of a link, being written. */
function LinkField({ onKeep, onLeave }: { onKeep(href: string): void; onLeave(): void }) {
  const [address, setAddress] = useState('');
  const wrong = !!address && !isSafeAddress(address);
  return (
    <input
      className="remark-link"
      aria-label="Address of the link"
      placeholder="https://…   Enter keeps it"
      autoFocus
      value={address}
      aria-invalid={wrong}
      onChange={({ target }) => setAddress(target.value)}
      onBlur={onLeave}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter' && !wrong) onKeep(address.trim());
        if (event.key === 'Escape') onLeave();
      }}
    />
  );
}
