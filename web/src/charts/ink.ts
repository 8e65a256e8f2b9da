// The colours and letters of the page, as a chart needs them.
export interface Ink {
  ink: string
  second: string
  hairline: string
  line: string
  act: string
  ground: string
  surface: string
}

export function inkOf(el: Element): Ink {
  const css = getComputedStyle(el)
  const v = (name: string) => css.getPropertyValue(name).trim()
  return {
    ink: v('--ink'),
    second: v('--ink-2'),
    hairline: v('--hairline'),
    line: v('--line'),
    act: v('--act'),
    ground: v('--ground'),
    surface: v('--surface'),
  }
}

export const font = "'Archivo Variable', system-ui, sans-serif"

/** What all charts have: their letters, their tooltip, and room for the letters of the axes. */
export const common = (i: Ink) => ({
  animation: false,
  textStyle: { fontFamily: font, fontSize: 13, color: i.ink },
  aria: { enabled: false }, // the page says in words of its own what it shows
  grid: { left: 8, right: 16, top: 14, bottom: 8, outerBoundsMode: 'same', outerBoundsContain: 'axisLabel' },
  tooltip: {
    renderMode: 'richText', // the page's policy lets no chart write styles
    confine: true,
    backgroundColor: i.surface,
    borderColor: i.ink,
    borderRadius: 2,
    textStyle: { color: i.ink, fontFamily: font, fontSize: 13 },
  },
})

export const axis = (i: Ink) => ({
  axisLine: { lineStyle: { color: i.line } },
  axisTick: { show: false },
  axisLabel: { color: i.second, fontSize: 12 },
  splitLine: { lineStyle: { color: i.hairline } },
})
