// A dictionary of another language than English, read from its file. What a sentence may hold is vue-i18n's own; of it
// stands here the core alone, for a page speaks one language from its beginning to its end.
import { compile, createCoreContext, registerMessageCompiler, translate } from '@intlify/core-base'
import type { Dictionary } from './filled'

registerMessageCompiler(compile)
const order = ['zero', 'one', 'two', 'few', 'many', 'other']

/** The dictionary of a language; undefined where its file cannot be had, so that English stands instead. */
export async function dictionaryOf(language: string): Promise<Dictionary | undefined> {
  const answer = await fetch(`/words/${language}.json`).catch(() => undefined)
  if (!answer?.ok) return undefined
  const words = (await answer.json()) as Record<string, string>
  const rule = new Intl.PluralRules(language)
  const kinds = order.filter((k) => rule.resolvedOptions().pluralCategories.includes(k as Intl.LDMLPluralRule))
  const context = createCoreContext({
    locale: language,
    messages: { [language]: words },
    // a sentence is its own key, dots and all
    messageResolver: (all, key) => (all as Record<string, string>)[key] ?? null,
    pluralRules: { [language]: (n, choices) => Math.min(kinds.indexOf(rule.select(n)), choices - 1) },
    missingWarn: false,
    fallbackWarn: false,
  })
  const speak = translate as (of: unknown, key: string, ...values: unknown[]) => unknown
  const said = (key: string, ...values: unknown[]) => (words[key] ? String(speak(context, key, ...values)) : undefined)
  return { sentence: (key, values) => said(key, values), counted: (key, n) => said(key, { n }, n) }
}
