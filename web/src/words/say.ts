// Every word that a person reads passes through here. English stands in the code and is its own dictionary; another
// language is a file of the same sentences (docs/languages.md), and only who reads it loads what it takes.
import { filled, type Dictionary, type Filling } from './filled'
import { language } from './language'

let dictionary: Dictionary | undefined

/** Reads the dictionary of the reader's language. Nothing that speaks may load before; see main.ts. */
export async function readWords(): Promise<void> {
  if (language === 'en') return
  dictionary = await (await import('./translated')).dictionaryOf(language)
  document.documentElement.lang = dictionary ? language : 'en'
}

/** A sentence in the reader's language: say('Book it'), say`Lot ${code} has come`, say('Lot {0} has come', [code]). */
export function say(text: string, values?: Filling): string
export function say(text: TemplateStringsArray, ...values: unknown[]): string
export function say(text: string | TemplateStringsArray, ...values: unknown[]): string {
  return typeof text === 'string' ? spoken(text, (values[0] as Filling) ?? []) : spoken(keyOf(text), values)
}

/** A number with its noun: "1 piece", "3 pieces"; the plural where it is not the noun with an s. */
export function counted(n: number, one: string, many = `${one}s`): string {
  return dictionary?.counted(`{n} ${one} | {n} ${many}`, n) || filled(`{n} ${n === 1 ? one : many}`, { n })
}

const spoken = (key: string, values: Filling) => dictionary?.sentence(key, values) || filled(key, values)

/** What a tagged template is called in the dictionary: its values by number. */
const keyOf = (parts: readonly string[]) => parts.reduce((key, part, i) => `${key}{${i - 1}}${part}`)
