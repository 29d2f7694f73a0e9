import type { HowPrinted, Papers } from '@tea-pencil/wire';

/** How wide and high paper is, in millimetres (ISO 216; ANSI/ASME Y14.1). */
export const papers: Readonly<Record<Papers, { width: number; height: number; title: string }>> = {
  a4: { width: 210, height: 297, title: 'A4' },
  letter: { width: 215.9, height: 279.4, title: 'Letter' },
};

export const usualPrint: HowPrinted = { paper: 'a4', large: false, lineNumbers: false, notes: 'none', hues: true };
