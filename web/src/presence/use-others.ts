import { useEffect, useState } from 'react';
import type { LiveText } from '../live/live-text';
import type { Other } from '../live/places';

/** Everyone else who has the manuscript open, and where they are now. */
export function useOthers(text: LiveText): Other[] {
  const [others, setOthers] = useState<Other[]>(() => text.places.others());
  useEffect(() => text.places.subscribe(() => setOthers(text.places.others())), [text]);
  return others;
}
