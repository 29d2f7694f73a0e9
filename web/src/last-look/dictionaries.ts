import type { DictionaryName } from '@tea-pencil/core';
import deAff from 'dictionary-de/index.aff?url';
import deDic from 'dictionary-de/index.dic?url';
import enGbAff from 'dictionary-en-gb/index.aff?url';
import enGbDic from 'dictionary-en-gb/index.dic?url';
import enAff from 'dictionary-en/index.aff?url';
import enDic from 'dictionary-en/index.dic?url';
import esAff from 'dictionary-es/index.aff?url';
import esDic from 'dictionary-es/index.dic?url';
import frAff from 'dictionary-fr/index.aff?url';
import frDic from 'dictionary-fr/index.dic?url';

/** Where our own server has the dictionaries; each is fetched when a text in its language is looked at. */
const files: Record<DictionaryName, [affixes: string, words: string]> = {
  'en-gb': [enGbAff, enGbDic],
  en: [enAff, enDic],
  de: [deAff, deDic],
  fr: [frAff, frDic],
  es: [esAff, esDic],
};

async function fetched(address: string): Promise<string> {
  const response = await fetch(address);
  if (!response.ok) throw new Error(`${address} is not there.`);
  return response.text();
}

export const dictionaryFiles = (name: DictionaryName): Promise<string[]> => Promise.all(files[name].map(fetched));
