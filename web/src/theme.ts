// The one PrimeVue preset: square, flat, hard hairlines, built on the tokens of styles/base.css.
import { definePreset } from '@primeuix/themes'
import base from '@primeuix/themes/aura/base'
import autocomplete from '@primeuix/themes/aura/autocomplete'
import button from '@primeuix/themes/aura/button'
import checkbox from '@primeuix/themes/aura/checkbox'
import confirmdialog from '@primeuix/themes/aura/confirmdialog'
import datatable from '@primeuix/themes/aura/datatable'
import datepicker from '@primeuix/themes/aura/datepicker'
import dialog from '@primeuix/themes/aura/dialog'
import iconfield from '@primeuix/themes/aura/iconfield'
import inputtext from '@primeuix/themes/aura/inputtext'
import popover from '@primeuix/themes/aura/popover'
import paginator from '@primeuix/themes/aura/paginator'
import progressbar from '@primeuix/themes/aura/progressbar'
import select from '@primeuix/themes/aura/select'
import skeleton from '@primeuix/themes/aura/skeleton'
import slider from '@primeuix/themes/aura/slider'
import toast from '@primeuix/themes/aura/toast'
import virtualscroller from '@primeuix/themes/aura/virtualscroller'

const act = 'var(--act)'
const said = {
  secondary: {
    background: 'var(--surface)',
    borderColor: 'var(--ink)',
    color: 'var(--ink)',
    detailColor: 'var(--ink)',
    shadow: 'none',
    closeButton: { hoverBackground: 'var(--act-wash)', focusRing: { color: act } },
  },
}
const scheme = {
  surface: { 50: 'var(--act-wash)', 100: 'var(--act-wash)' },
  primary: {
    color: act,
    contrastColor: 'var(--on-act)',
    hoverColor: 'var(--act-deep)',
    activeColor: 'var(--act-deep)',
  },
  highlight: {
    background: 'var(--act-wash)',
    focusBackground: 'var(--act-wash)',
    color: 'var(--ink)',
    focusColor: 'var(--ink)',
  },
  text: { color: 'var(--ink)', hoverColor: 'var(--ink)', mutedColor: 'var(--ink-2)', hoverMutedColor: 'var(--ink-2)' },
  content: {
    background: 'var(--surface)',
    hoverBackground: 'var(--act-wash)',
    borderColor: 'var(--hairline)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
  },
  overlay: {
    select: { background: 'var(--surface)', borderColor: 'var(--ink)', color: 'var(--ink)' },
    popover: { background: 'var(--surface)', borderColor: 'var(--ink)', color: 'var(--ink)' },
    modal: { background: 'var(--surface)', borderColor: 'var(--ink)', color: 'var(--ink)' },
  },
  list: {
    option: {
      focusBackground: 'var(--act-wash)',
      selectedBackground: 'var(--act-wash)',
      selectedFocusBackground: 'var(--act-wash)',
      color: 'var(--ink)',
      focusColor: 'var(--ink)',
      selectedColor: 'var(--ink)',
      selectedFocusColor: 'var(--ink)',
    },
  },
  formField: {
    background: 'var(--surface)',
    filledBackground: 'var(--surface)',
    filledHoverBackground: 'var(--surface)',
    filledFocusBackground: 'var(--surface)',
    borderColor: 'var(--line)',
    hoverBorderColor: 'var(--ink)',
    focusBorderColor: act,
    invalidBorderColor: act,
    color: 'var(--ink)',
    placeholderColor: 'var(--ink-2)',
    invalidPlaceholderColor: 'var(--ink-2)',
    shadow: 'none',
    iconColor: 'var(--ink-2)',
  },
}

export const theme = {
  // only what is used, so that the first page does not carry the rest
  preset: definePreset(
    {
      ...base,
      components: {
        autocomplete,
        button,
        checkbox,
        confirmdialog,
        datatable,
        datepicker,
        dialog,
        iconfield,
        inputtext,
        popover,
        paginator,
        progressbar,
        select,
        skeleton,
        slider,
        toast,
        virtualscroller,
      },
    },
    {
      primitive: { borderRadius: { none: '0', xs: '2px', sm: '2px', md: '2px', lg: '2px', xl: '2px' } },
      semantic: {
        transitionDuration: '80ms',
        primary: { 50: 'var(--act-wash)', 100: 'var(--act-wash)', 200: 'var(--act-wash)' },
        focusRing: { width: '3px', style: 'solid', color: act, offset: '2px', shadow: 'none' },
        formField: {
          paddingX: '12px',
          paddingY: '10px',
          borderRadius: '2px',
          focusRing: { width: '0', style: 'none', color: 'transparent', offset: '0', shadow: 'none' },
        },
        overlay: { select: { borderRadius: '2px', shadow: 'none' }, popover: { borderRadius: '2px', shadow: 'none' } },
        colorScheme: { light: scheme, dark: scheme },
      },
      components: {
        button: { root: { borderRadius: '2px', paddingX: '16px', paddingY: '10px', label: { fontWeight: '650' } } },
        datepicker: {
          panel: { borderColor: 'transparent', padding: '8px' },
          date: {
            width: '40px',
            height: '40px',
            padding: '0',
            borderRadius: '2px',
            selectedBackground: act,
            selectedColor: 'var(--on-act)',
            hoverBackground: 'var(--act-wash)',
          },
          today: { background: 'var(--hairline)', color: 'var(--ink)' },
        },
        popover: { content: { padding: '0' } },
        toast: { colorScheme: { light: said, dark: said } },
        slider: {
          track: { background: 'var(--line)', size: '4px' },
          range: { background: 'var(--ink)' },
          handle: {
            width: '36px',
            height: '36px',
            borderRadius: '2px',
            background: 'var(--ink)',
            hoverBackground: 'var(--ink)',
            content: {
              width: '30px',
              height: '30px',
              borderRadius: '1px',
              background: 'var(--surface)',
              hoverBackground: 'var(--surface)',
              shadow: 'none',
            },
          },
          colorScheme: {
            light: { handle: { content: { background: 'var(--surface)' } } },
            dark: { handle: { content: { background: 'var(--surface)' } } },
          },
        },
        checkbox: { root: { borderRadius: '2px', width: '24px', height: '24px' } },
      },
    },
  ),
  options: { darkModeSelector: '[data-scheme="dark"]', cssLayer: false },
}
