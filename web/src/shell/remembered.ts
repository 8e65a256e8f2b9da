// What this screen remembers for itself. A browser without storage remembers nothing.

/** What is remembered under a key; undefined where nothing is. */
export function remembered(key: string): string | undefined {
  try {
    return localStorage.getItem(key) ?? undefined
  } catch {
    return undefined
  }
}

export function remember(key: string, value: string): void {
  try {
    localStorage.setItem(key, value)
  } catch {
    /* see above */
  }
}
