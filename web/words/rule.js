// A rule for the checker of code: words that a person reads are asked of the dictionary.

const wordy = /\p{L}[\p{L},.;:!?…)]* \p{L}|^[A-Z][a-z]+$/u
/** Text of machines: addresses, styles, paths of a picture, keys of a keyboard, and the words of the log itself. */
const machine = new RegExp(
  [
    '^(GET|POST|PUT|DELETE) ',
    'var\\(|px\\b|url\\(|sans-serif|prefers-|^\\+\\+',
    '^[ML][\\d{]|^data:|[[\\]=]|^°|^SK-',
    '^(Enter|Backspace|Escape|Home|End|Date|Falda)$',
    '^(one way|two ways|as usual)$|^\\(',
  ].join('|'),
)
const free = new Set(['ImportDeclaration', 'TSLiteralType', 'ExportAllDeclaration', 'ExportNamedDeclaration'])

/** Whether a string stands where it is compared, looked up, or is a key. */
function isKey({ parent, type }, node) {
  if (free.has(type) || free.has(parent?.type)) return true
  if (parent.type === 'BinaryExpression') return true
  if (parent.type === 'Property') return parent.key === node
  if (parent.type === 'MemberExpression' || parent.type === 'NewExpression') return true
  if (parent.type !== 'CallExpression') return false
  const callee = parent.callee.property?.name ?? parent.callee.name
  return /^(say|counted|get|closest|querySelector|querySelectorAll|includes|startsWith|endsWith|replace)$/.test(callee)
}

export default {
  meta: { type: 'problem', messages: { said: 'Words that a person reads are said: say(…)' }, schema: [] },
  create(context) {
    const look = (node, text) => {
      if (wordy.test(text) && !machine.test(text) && !isKey(node, node)) context.report({ node, messageId: 'said' })
    }
    const rules = {
      Literal: (node) => typeof node.value === 'string' && look(node, node.value),
      TemplateLiteral(node) {
        if (node.parent.type === 'TaggedTemplateExpression') return
        look(node, node.quasis.map((q) => q.value.cooked).join('{0}'))
      },
    }
    const pages = context.sourceCode.parserServices?.defineTemplateBodyVisitor
    return pages ? pages(rules, rules) : rules
  },
}
