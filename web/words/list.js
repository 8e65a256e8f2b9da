// Writes the list of all sentences of the interface, the English dictionary, or with --check says whether it is true.
import { readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from '@vue/compiler-sfc'
import { NodeTypes } from '@vue/compiler-core'
import { attributeKey, isMute, keysOfCode, runs } from './sentences.js'

const source = new URL('../src', import.meta.url).pathname
const target = new URL('../public/words/en.json', import.meta.url).pathname
const keys = new Set()
const faults = []

for (const name of readdirSync(source, { recursive: true })) {
  const complain = (call) => faults.push(`${name}: the words of ${call} must stand in it`)
  if (name.endsWith('.ts') && !/^(api.schema\.d|words.say)\.ts$/.test(name))
    code(readFileSync(join(source, name), 'utf8'))
  if (name.endsWith('.vue')) page(parse(readFileSync(join(source, name), 'utf8')).descriptor)

  function code(text) {
    keysOfCode(text, (key) => keys.add(key), complain)
  }
  function page({ script, scriptSetup, template }) {
    for (const s of [script, scriptSetup]) if (s) code(s.content)
    if (template) walk(template.ast)
  }
  function walk(node) {
    if (node.type === NodeTypes.INTERPOLATION) code(`(${node.content.content})`)
    for (const p of node.props ?? []) {
      const key = attributeKey(p)
      if (key) keys.add(key)
      if (p.exp) code(p.name === 'on' ? p.exp.loc.source : `(${p.exp.loc.source})`)
    }
    if (isMute(node)) return
    for (const r of runs(node.children ?? [])) keys.add(r.key)
    for (const c of node.children ?? []) walk(c)
  }
}

// in a dictionary "@" and a bar stand in braces, or they would mean something
const written = (key) => (/^\{n\} /.test(key) ? key : key.replace(/[@|]/g, (c) => `{'${c}'}`))
const list = Object.fromEntries([...keys].sort().map((key) => [key, written(key)]))
const text = `${JSON.stringify(list, null, 2)}\n`
for (const f of faults) console.error(f)
if (process.argv.includes('--check')) {
  if (readFileSync(target, 'utf8') !== text) {
    console.error('public/words/en.json is not what the interface says: run npm run words')
    process.exit(1)
  }
} else writeFileSync(target, text)
if (faults.length) process.exit(1)
