import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, h } from 'vue'

import type { Plan, Said } from '@/api/client'
import { PLAN } from '@/plan/lens'
import { provideScope } from '@/ui/scope'

import SaidSentence from './SaidSentence.vue'

const token = (field: string, label: string, kind: string, more: object = {}) => ({
  text: '',
  field,
  label,
  kind,
  options: [],
  without: null,
  ...more,
})
const said = {
  at: '08:00',
  parts: [
    { text: 'keep ', field: '', label: '', kind: null, options: [], without: null },
    token('floor', 'Floor', 'number'),
    token('share', 'Share', 'share', { without: { share: 0 } }),
    token('knock', 'Knock', 'choice', {
      options: [
        { value: 'true', text: 'at once' },
        { value: 'false', text: 'at the next look' },
      ],
    }),
    token('clock_of', 'Whose clock', 'site'),
    token('timeouts.idle', 'Idle', 'timeout'),
  ],
  offers: [],
} as unknown as Said

function shown() {
  const band = { floor: 4, share: 0.25, knock: true, clock_of: 'pier', timeouts: { idle: 900 } }
  const plan = { prices: band } as unknown as Plan
  const at = PLAN.at('prices')
  const scope = {
    read: (field: string) => at.field(field).read(plan),
    set: (field: string, value: unknown) => at.field(field).write(plan, value),
    pathOf: (field: string) => at.field(field).path,
  }
  const sentence = mount(
    defineComponent(() => {
      provideScope(scope)
      return () => h(SaidSentence, { said, sites: ['pier', 'yard'] })
    }),
  )
  const set = () => sentence.findComponent(SaidSentence).emitted('set') ?? []
  const labelled = (label: string) => sentence.find(`[aria-label="${label}"]`)
  return { band, sentence, set, labelled }
}

describe('a sentence that the server says', () => {
  it('shows the values of the plan where its tokens stand', () => {
    const { sentence, labelled } = shown()
    expect(sentence.text()).toContain('keep')
    expect((labelled('Floor').element as HTMLInputElement).value).toBe('4')
    expect((labelled('Share').element as HTMLInputElement).value).toBe('25')
    expect((labelled('Knock').element as HTMLSelectElement).value).toBe('true')
    expect((labelled('Whose clock').element as HTMLSelectElement).value).toBe('pier')
  })

  it('writes a share that is given in per cent', async () => {
    const { band, labelled } = shown()
    await labelled('Share').setValue('40')
    await labelled('Share').trigger('keydown', { key: 'Enter' })
    await labelled('Share').trigger('blur')
    expect(band.share).toBeCloseTo(0.4)
  })

  it('tells a choice between yes and no as one, and others as words', async () => {
    const { set, labelled } = shown()
    await labelled('Knock').setValue('false')
    await labelled('Whose clock').setValue('yard')
    expect(set()).toEqual([[{ knock: false }], [{ clock_of: 'yard' }]])
  })

  it('tells timeouts in minutes, or never', async () => {
    const { band, labelled } = shown()
    const idle = labelled('Idle in minutes')
    expect((idle.element as HTMLInputElement).value).toBe('15')
    for (const [text, seconds] of [
      ['7.5', 450],
      ['never', 'never'],
    ] as const) {
      await idle.setValue(text)
      await idle.trigger('keydown', { key: 'Enter' })
      await idle.trigger('blur')
      expect(band.timeouts.idle).toBe(seconds)
    }
  })

  it('leaves out what may be left out, and nothing else', async () => {
    const { set, sentence } = shown()
    const buttons = sentence.findAll('button')
    expect(buttons.map((button) => button.attributes('aria-label'))).toEqual([
      'Share: leave it out',
    ])
    await buttons[0]?.trigger('click')
    expect(set()).toEqual([[{ share: 0 }]])
  })
})
