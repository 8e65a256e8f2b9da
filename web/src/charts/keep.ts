// Keeping a picture as a file.

/** An SVG as a PNG of twice its size, on a ground. */
import { say } from '../words/say'
export async function pngOf(svg: string, width: number, height: number, ground: string): Promise<Blob> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = width * 2
  canvas.height = height * 2
  const to = canvas.getContext('2d')
  if (!to) throw new Error(say('no canvas'))
  to.fillStyle = ground
  to.fillRect(0, 0, canvas.width, canvas.height)
  to.drawImage(image, 0, 0, canvas.width, canvas.height)
  return new Promise((done, fail) =>
    canvas.toBlob((b) => (b ? done(b) : fail(new Error(say('no picture')))), 'image/png'),
  )
}

const styled = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'font-family',
  'font-size',
  'font-weight',
  'font-stretch',
  'text-anchor',
]

/** A picture of the page as an SVG that stands by itself: what the page's styles say is written into it. */
export function standalone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const originals = svg.querySelectorAll<SVGElement>('*')
  copy.querySelectorAll<SVGElement>('*').forEach((el, i) => {
    const css = getComputedStyle(originals[i]!)
    for (const name of styled) el.setAttribute(name, css.getPropertyValue(name))
    for (const name of ['class', 'tabindex', 'role', 'aria-label']) el.removeAttribute(name)
  })
  const { width, height } = svg.getBoundingClientRect()
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('width', String(width))
  copy.setAttribute('height', String(height))
  return new XMLSerializer().serializeToString(copy)
}
