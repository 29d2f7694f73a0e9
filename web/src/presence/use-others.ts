import { useEffect, useState } from 'react';
import type { Other } from '../live/places';
import { useOpened } from '../opened/opened';

/** Everyone else who has the manuscript open, and where they are now. */
export function useOthers(): Other[] {
  const { text } = useOpened();
  const [others, setOthers] = useState<Other[]>(() => text.places.others());
  useEffect(() => text.places.subscribe(() => setOthers(text.places.others())), [text]);
  return others;
}
