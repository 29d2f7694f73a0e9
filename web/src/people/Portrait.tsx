import { useState } from 'react';

interface Person {
  id: string;
  initials: string;
  /** Names the picture they have set, if they have set one. */
  portrait?: string | null;
}

/** Somebody's picture, or their initials; the hue is that of what it stands on. */
export function Portrait({ person }: { person: Person }) {
  const [failed, setFailed] = useState<string | null>(null);
  const { id, initials, portrait } = person;
  if (!portrait || portrait === failed) return <>{initials}</>;
  return <img src={`/api/people/${id}/portrait?${portrait}`} alt="" onError={() => setFailed(portrait)} />;
}
