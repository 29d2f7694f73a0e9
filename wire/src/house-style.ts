import type { HouseStyle, Rule } from '@tea-pencil/core';

/** House styles, and their versions. */

export interface StyleLine {
  id: string;
  name: string;
  language: string;
  rules: number;
  version: number;
  /** Who changed it last, and when. */
  by: string;
  at: string;
  mayChange: boolean;
  /** How many manuscripts that one can see follow it. */
  manuscripts: number;
}

export interface StyleWhole extends HouseStyle {
  id: string;
  version: number;
  mayChange: boolean;
}

export interface StyleVersion {
  version: number;
  by: string;
  byName: string;
  at: string;
  rules: number;
}

/** A style as it is to be kept. */
export interface StyleToKeep extends HouseStyle {
  /** The version it was made from; another that came since is not overwritten. */
  since: number;
}

export interface RulesRead {
  name: string;
  language: string | null;
  rules: Rule[];
}
