<script setup lang="ts" generic="T extends object">
// A long list: sorted by a touch on a head, in pages, its state in the address, its rows as cards on a phone.
import { computed } from 'vue'
import Column from 'primevue/column'
import DataTable, { type DataTablePageEvent, type DataTableSortEvent } from 'primevue/datatable'
import { useAddressForm } from './useAddressForm'
import { say } from '../words/say'

export interface ListColumn<R> {
  id: string
  head: string
  /** What it is sorted by; without it, it is not sorted. */
  by?: (row: R) => string | number
  /** A number, which stands at the right. */
  number?: boolean
  /** It is never broken over two lines. */
  whole?: boolean
}
const props = withDefaults(
  defineProps<{
    rows: T[]
    columns: ListColumn<T>[]
    /** Of each row, by itself or its place. */
    rowKey: (row: T, place: number) => string
    /** What is said where there is none. */
    empty?: string
    label: string
    /** Not all rows are here yet: sorting would mislead. */
    part?: boolean
    pageSize?: number
    /** What rows stand under together, while they are not sorted otherwise. */
    group?: (row: T) => string
    rowClass?: (row: T) => string | undefined
    /** Key of the row below which the slot "opened" stands. */
    opened?: string
    /** Set where a page has several lists, so that each keeps its own state in the address. */
    name?: string
  }>(),
  { pageSize: 50, empty: '', group: undefined, rowClass: undefined, opened: '', name: '' },
)
defineSlots<Record<string, (p: { row: T }) => unknown>>()

const keys = { sort: `${props.name}sort`, page: `${props.name}page` }
const address = useAddressForm<Record<string, string>>({ [keys.sort]: '', [keys.page]: '1' })
const state = {
  get sort() {
    return address[keys.sort]!
  },
  set sort(v) {
    address[keys.sort] = v
  },
  get page() {
    return address[keys.page]!
  },
  set page(v) {
    address[keys.page] = v
  },
}
const sorted = computed(() => {
  const column = props.columns.find((c) => c.id === state.sort.replace('-', ''))
  const rows = props.rows.map((row, i) => ({ row, key: props.rowKey(row, i) }))
  if (!column?.by || props.part) return grouped(rows)
  const by = column.by
  const turn = state.sort.startsWith('-') ? -1 : 1
  return rows.sort((a, b) => turn * compare(by(a.row), by(b.row)))
})
interface Entry {
  row: T
  key: string
  group?: string
}
/** Rows by group, in the order in which the groups first come. */
function grouped(rows: Entry[]): Entry[] {
  if (!props.group) return rows
  const groups = new Map<string, Entry[]>()
  for (const r of rows) {
    const name = props.group(r.row)
    groups.set(name, [...(groups.get(name) ?? []), { ...r, group: name }])
  }
  return [...groups.values()].flat()
}
const isGrouped = computed(() => !!props.group && !state.sort)
function compare(a: string | number, b: string | number) {
  return typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b))
}
function sort(e: DataTableSortEvent) {
  const field = typeof e.sortField === 'string' ? e.sortField : ''
  state.sort = field && e.sortOrder ? `${e.sortOrder < 0 ? '-' : ''}${field}` : ''
  state.page = '1'
}
const turn = (e: DataTablePageEvent) => (state.page = String(e.page + 1))
const pages = computed(() => Math.max(1, Math.ceil(props.rows.length / props.pageSize)))
const first = computed(() => (Math.min(pages.value, Math.max(1, Number(state.page) || 1)) - 1) * props.pageSize)
/** The table itself puts the numbers into it. */
const pagesShown = say('{0} to {1} of {2}', ['{first}', '{last}', '{totalRecords}'])
</script>

<template>
  <p v-if="!rows.length" class="small">{{ empty }}</p>
  <DataTable
    v-else
    :value="sorted.slice(first, first + pageSize)"
    data-key="key"
    class="list-table"
    lazy
    :total-records="rows.length"
    :paginator="pages > 1"
    :rows="pageSize"
    :first="first"
    paginator-template="PrevPageLink CurrentPageReport NextPageLink"
    :current-page-report-template="pagesShown"
    removable-sort
    :sort-field="state.sort.replace('-', '')"
    :sort-order="state.sort.startsWith('-') ? -1 : 1"
    :table-props="{ 'aria-label': label }"
    v-bind="isGrouped ? { rowGroupMode: 'subheader', groupRowsBy: 'group' } : {}"
    :pt="{
      rowGroupHeaderCell: { colspan: columns.length },
      pcPaginator: { paginatorContainer: { 'aria-label': say`Pages: ${label}` } },
    }"
    :row-class="(d: Entry) => rowClass?.(d.row)"
    :expanded-rows="opened ? { [opened]: true } : {}"
    @sort="sort"
    @page="turn"
  >
    <template v-if="isGrouped" #groupheader="{ data: d }"
      ><strong>{{ d.group }}</strong></template
    >
    <Column
      v-for="c in columns"
      :key="c.id"
      :field="c.id"
      :header="c.head"
      :sortable="!!c.by && !part"
      :class="{ n: c.number, whole: c.whole }"
      :pt="{ bodyCell: { 'data-head': c.head } }"
    >
      <template #body="{ data: d }"><slot :name="c.id" :row="d.row" /></template>
    </Column>
    <template v-if="$slots.opened" #expansion="{ data: d }"><slot name="opened" :row="d.row" /></template>
  </DataTable>
</template>
