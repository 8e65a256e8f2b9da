// A file that the browser keeps.

/** Offers a file to be kept under a name. */
export function save(what: Blob, name: string) {
  const url = URL.createObjectURL(what)
  const a = document.createElement('a')
  a.href = url
  a.download = name
  a.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}
