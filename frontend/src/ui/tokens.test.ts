import { mount } from '@vue/test-utils'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'

import type { Hint } from '@/api/client'
import { takeHints } from '@/help/hints'

import FieldToken from './FieldToken.vue'
import { provideScope } from './scope'

const hint: Omit<Hint, 'path'> = { unit: '', meaning: '', low: null, high: null, step: null, whole: null, choices: [] }
const fields = [
  { ...hint, path: 'part.per', choices: ['person', 'session'] },
  { ...hint, path: 'part.many', low: 0, high: 10, step: 1, whole: true },
]
beforeAll(() => takeHints(fields))
afterAll(() => takeHints([]))

const part: Record<string, unknown> = { per: 'person', place: null, on: false, many: 3 }

/** A token of the part, and what it has set. */
function token(props: { field: string; [more: string]: unknown }) {
  const set = vi.fn()
  const page = mount(
    defineComponent(() => {
      provideScope({ read: (field) => part[field], set, pathOf: (field) => `part.${field}` })
      return () => h(FieldToken, { label: 'Label', ...props })
    }),
  )
  return { set, page, choices: () => page.findAll('option').map((each) => each.text()) }
}

describe('a token of a field', () => {
  it('offers the declared choices, by what the sentence calls them', async () => {
    const { set, page, choices } = token({ field: 'per', called: { session: 'peak session' } })
    expect(choices()).toEqual(['person', 'peak session'])
    await page.find('select').setValue('session')
    expect(set).toHaveBeenCalledWith('per', 'session')
  })

  it('leaves a field without a value where that is chosen', async () => {
    const options = [{ value: 'quay', text: 'Quay' }]
    const { set, page, choices } = token({ field: 'place', options, none: 'nowhere' })
    expect(choices()).toEqual(['nowhere', 'Quay'])
    expect(page.find('select').element.value).toBe('')
    await page.find('select').setValue('quay')
    await page.find('select').setValue('')
    expect(set.mock.calls).toEqual([
      ['place', 'quay'],
      ['place', null],
    ])
  })

  it('says yes and no in words', async () => {
    const { set, page, choices } = token({ field: 'on', yes: 'works', no: 'rests' })
    expect(choices()).toEqual(['rests', 'works'])
    await page.find('select').setValue('true')
    expect(set).toHaveBeenCalledWith('on', true)
  })

  it('is typed where nothing is to choose, within what is declared', async () => {
    const { set, page } = token({ field: 'many' })
    const box = page.find('input')
    await box.setValue('11')
    await box.trigger('keydown', { key: 'Enter' })
    expect(set).not.toHaveBeenCalled()
    expect(page.text()).toContain('from 0 to 10')
    await box.setValue('7')
    await box.trigger('keydown', { key: 'Enter' })
    expect(set).toHaveBeenCalledWith('many', 7)
  })
})
