// The sentences of the interface: what of a page's template and code is read by a person, and what it is called in
// the dictionary. The build and the list of sentences (list.js) go by the same rules.
import { NodeTypes, createSimpleExpression } from '@vue/compiler-core'
import ts from 'typescript'

/** The attributes that people read or hear. */
export const spokenAttributes = new Set([
  'alt',
  'aria-label',
  'aria-roledescription',
  'empty',
  'empty-filter-message',
  'empty-search-message',
  'hint',
  'label',
  'lead',
  'none',
  'placeholder',
  'says',
  'title',
  'what',
])
const mute = new Set(['style', 'script', 'code', 'pre', 'textarea'])
const spoken = (text) => /\p{L}{2}/u.test(text.replace(/\{\d+\}/g, ''))

/**
 * The sentences among the children of one place of a template: runs of text and of values in braces. Each has its key
 * ("Lot {0} has come"), the expressions of its values, and where it stands among the children.
 */
export function runs(children) {
  const found = []
  for (let i = 0; i < children.length;) {
    let end = i
    while (end < children.length && [NodeTypes.TEXT, NodeTypes.INTERPOLATION].includes(children[end].type)) end++
    if (end > i) {
      const run = sentence(children.slice(i, end))
      if (run) found.push({ ...run, start: i, end })
    }
    i = Math.max(end, i + 1)
  }
  return found
}

function sentence(nodes) {
  const values = []
  let key = ''
  for (const n of nodes) {
    if (n.type === NodeTypes.TEXT) key += n.content
    else {
      key += `{${values.length}}`
      values.push(n.content.content ?? n.content.loc.source)
    }
  }
  const [, before, inner, after] = /^(\s*)([^]*?)(\s*)$/.exec(key)
  const text = inner.replace(/\s+/g, ' ')
  return spoken(text) && { key: text, values, before: before && ' ', after: after && ' ' }
}

/** Whether the text inside an element is read by people. */
export const isMute = (node) => node.type === NodeTypes.ELEMENT && mute.has(node.tag)

/** The key of an attribute that people read; nothing for others. */
export const attributeKey = (prop) =>
  prop.type === NodeTypes.ATTRIBUTE && spokenAttributes.has(prop.name) && spoken(prop.value?.content ?? '')
    ? prop.value.content.replace(/\s+/g, ' ')
    : undefined

/** A step of Vue's compiler: every sentence of a template is asked of the dictionary. */
export function speak(node) {
  if (!Array.isArray(node.children) || isMute(node)) return
  if (node.type === NodeTypes.ELEMENT)
    node.props = node.props.map((p) => {
      const key = attributeKey(p)
      return key ? bound(p, key) : p
    })
  for (const r of runs(node.children).reverse())
    node.children.splice(r.start, r.end - r.start, ...asked(r, node.children))
}

const asked = (r, children) => {
  const { loc } = children[r.start]
  const values = r.values.length ? `, [${r.values.map((v) => `(${v})`).join(', ')}]` : ''
  const space = (s) => (s ? [{ type: NodeTypes.TEXT, content: s, loc }] : [])
  const call = createSimpleExpression(`$say(${JSON.stringify(r.key)}${values})`, false, loc)
  return [...space(r.before), { type: NodeTypes.INTERPOLATION, content: call, loc }, ...space(r.after)]
}

const bound = (p, key) => ({
  type: NodeTypes.DIRECTIVE,
  name: 'bind',
  rawName: `:${p.name}`,
  arg: createSimpleExpression(p.name, true, p.loc),
  exp: createSimpleExpression(`_ctx.$say(${JSON.stringify(key)})`, false, p.loc),
  modifiers: [],
  loc: p.loc,
})

/** The keys that code asks for: say('…'), say`…`, counted(n, '…'). Tells of a call whose words are no constant. */
export function keysOfCode(code, found, complain) {
  const visit = (n) => {
    if (ts.isTaggedTemplateExpression(n) && n.tag.getText(file) === 'say') found(keyOfTemplate(n.template))
    if (ts.isCallExpression(n)) called(n, file, found, complain)
    ts.forEachChild(n, visit)
  }
  const file = ts.createSourceFile('code.ts', code, ts.ScriptTarget.ESNext, true)
  visit(file)
}

const keyOfTemplate = (t) =>
  t.templateSpans ? t.templateSpans.reduce((key, s, i) => `${key}{${i}}${s.literal.text}`, t.head.text) : t.text

/** The text of a string, or of strings put together; nothing for anything else. */
function constant(n) {
  if (ts.isStringLiteralLike(n)) return n.text
  if (!ts.isBinaryExpression(n)) return undefined
  const [left, right] = [constant(n.left), constant(n.right)]
  return left === undefined || right === undefined ? undefined : left + right
}

function called(n, file, found, complain) {
  const name = n.expression.getText(file)
  if (name === 'say') {
    const text = constant(n.arguments[0])
    if (text === undefined) complain(n.getText(file))
    else found(text)
  }
  if (name !== 'counted' || !n.arguments[1]) return
  const [one, many] = [n.arguments[1], n.arguments[2]]
  if ([one, many].some((a) => a && !ts.isStringLiteralLike(a))) return complain(n.getText(file))
  found(`{n} ${one.text} | {n} ${many ? many.text : `${one.text}s`}`)
}
