() => {
  // What of a page cannot be read or hit at this size: two texts or controls that overlap, and what is cut off.
  const say = (e) =>
    `${e.tagName.toLowerCase()}${e.className && typeof e.className === 'string' ? '.' + e.className.trim().split(/\s+/).join('.') : ''} “${(
      e.innerText ??
      e.textContent ??
      ''
    )
      .trim()
      .replace(/\s+/g, ' ')
      .slice(0, 40)}”`
  const style = new Map()
  const css = (e) => {
    if (!style.has(e)) style.set(e, getComputedStyle(e))
    return style.get(e)
  }
  const up = function* (e) {
    for (let at = e; at instanceof Element && at !== document.documentElement; at = at.parentElement) yield at
  }
  const hidden = (e) => {
    if (!e.checkVisibility({ contentVisibilityAuto: true })) return true
    for (const a of up(e)) {
      const s = css(a)
      if (s.visibility === 'hidden' || s.display === 'none' || s.clipPath !== 'none' || s.opacity === '0') return true
      if (a.matches('.skip, [aria-busy=true]')) return true
    }
    return false
  }
  // what lies on a layer of its own may cover what scrolls under it
  const layer = (e) => {
    for (const a of up(e)) if (['fixed', 'sticky'].includes(css(a).position) || a.matches('dialog, .panel')) return a
    return null
  }
  const clipped = (r, e) => {
    let { left, top, right, bottom } = r
    for (const a of up(e)) {
      const s = css(a)
      if (s.overflowX === 'visible' && s.overflowY === 'visible') continue
      const b = a.getBoundingClientRect()
      if (s.overflowX !== 'visible') {
        left = Math.max(left, b.left)
        right = Math.min(right, b.right)
      }
      if (s.overflowY !== 'visible') {
        top = Math.max(top, b.top)
        bottom = Math.min(bottom, b.bottom)
      }
    }
    return { left, top, right, bottom }
  }
  const scrolls = (e) => {
    for (const a of up(e)) if (['auto', 'scroll'].includes(css(a).overflowX)) return true
    return false
  }
  const things = []
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  for (let n = walker.nextNode(); n; n = walker.nextNode()) {
    const e = n.parentElement
    if (!n.data.trim() || !e || e.closest('script, style, option, noscript') || hidden(e)) continue
    const range = document.createRange()
    range.selectNodeContents(n)
    const ink = parseFloat(css(e).fontSize) * 0.72 // of a line's height, what its letters take
    for (const r of range.getClientRects()) {
      const middle = (r.top + r.bottom) / 2
      const c = clipped({ left: r.left, right: r.right, top: middle - ink / 2, bottom: middle + ink / 2 }, e)
      if (c.right - c.left > 1 && c.bottom - c.top > 1) things.push({ e, ...c, layer: layer(e) })
    }
  }
  for (const e of document.querySelectorAll('button, a[href], input, select, textarea')) {
    if (hidden(e) || (css(e).display === 'inline' && !e.matches('input, select'))) continue
    const c = clipped(e.getBoundingClientRect(), e)
    if (c.right - c.left > 1 && c.bottom - c.top > 1) things.push({ e, ...c, layer: layer(e), control: true })
  }
  const faults = new Set()
  things.sort((a, b) => a.top - b.top)
  for (let i = 0; i < things.length; i++) {
    const a = things[i]
    for (let j = i + 1; j < things.length && things[j].top < a.bottom; j++) {
      const b = things[j]
      const w = Math.min(a.right, b.right) - Math.max(a.left, b.left)
      const h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top)
      if (w <= 2 || h <= 2 || a.layer !== b.layer || a.e === b.e || a.e.contains(b.e) || b.e.contains(a.e)) continue
      // an input within its own label or a text over its own drawing
      if (a.e.closest('label') && a.e.closest('label') === b.e.closest('label')) continue
      faults.add(`overlap: ${say(a.e)} and ${say(b.e)}`)
    }
    if ((a.right > innerWidth + 1 || a.left < -1) && !scrolls(a.e)) faults.add(`beyond the window: ${say(a.e)}`)
  }
  for (const e of document.querySelectorAll('button, a[href], h1, h2, h3, td, th, label, p, li, dt, dd')) {
    const s = css(e)
    if (hidden(e) || !['hidden', 'clip'].includes(s.overflowX) || s.textOverflow === 'ellipsis') continue
    if (e.scrollWidth > e.clientWidth + 1) faults.add(`cut off: ${say(e)}`)
  }
  return [...faults].slice(0, 12).join('\n')
}
