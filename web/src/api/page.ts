// Whether this page is of the program that answers: after an upgrade an old page goes on working, and says so.
import { ref } from 'vue'

/** The program was upgraded since this page was loaded. */
export const upgraded = ref(false)

/** The script that this page began with; empty while it is developed. */
const own = () =>
  [...document.scripts]
    .map((s) => /\/assets\/(index-[^/]+\.js)$/.exec(s.src)?.[1])
    .find((name) => name !== undefined) ?? ''

/** Learns from the name of the page that an answer says is served now. */
export function learnPage(served: string | null): void {
  const mine = own()
  if (served && mine) upgraded.value = served !== mine
}
