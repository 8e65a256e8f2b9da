// A figure or a name that becomes a field where it stands. Enter keeps it, Escape leaves it, and a refusal stays in
// view beside what was typed.
import { nextTick, ref, shallowRef, useTemplateRef } from 'vue'
import { asProblem } from '../api/problem'

/** The field is the template's ref `input`. What is kept unchanged is not sent, unless it is still to be confirmed. */
export function useInPlace(of: {
  field: string
  value: () => string
  toConfirm?: () => boolean
  save: (text: string) => Promise<void>
}) {
  const editing = ref(false)
  const text = ref('')
  const fault = shallowRef('')
  const input = useTemplateRef<HTMLInputElement>('input')
  const same = () => text.value.trim() === of.value()

  async function edit() {
    text.value = of.value()
    fault.value = ''
    editing.value = true
    await nextTick()
    input.value?.select()
  }
  async function keep() {
    if (!editing.value) return
    if (same() && !of.toConfirm?.()) {
      editing.value = false
      return
    }
    try {
      await of.save(text.value)
      editing.value = false
    } catch (e) {
      const p = asProblem(e)
      fault.value = p.at(of.field) || p.message
    }
  }
  /** What was only looked at stays as it is. */
  const left = () => (same() ? (editing.value = false) : void keep())
  return { editing, text, fault, edit, keep, left }
}
