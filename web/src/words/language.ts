// The language of this screen: the one chosen here, or else the first of the browser's own that there is a file for.
import { remember, remembered } from '../shell/remembered'

/** The languages there are: English, and those whose files the server has. */
export const languages = ['en', ...(document.documentElement.dataset.languages ?? '').split(' ').filter(Boolean)]

const key = 'falda.language'

/** What was chosen on this screen; '' follows the browser. */
export const chosenLanguage = () => remembered(key) ?? ''

/** Chooses a language. All words are read when a page begins, so that the page begins anew. */
export function chooseLanguage(code: string): void {
  remember(key, code)
  location.reload()
}

export const language =
  [chosenLanguage(), ...navigator.languages]
    .map((l) => languages.find((x) => x === l) ?? languages.find((x) => x === l.split('-')[0]))
    .find(Boolean) ?? 'en'

/** What a language calls itself: "Deutsch". */
export function languageName(code: string): string {
  try {
    return new Intl.DisplayNames([code], { type: 'language' }).of(code) ?? code
  } catch {
    return code
  }
}
