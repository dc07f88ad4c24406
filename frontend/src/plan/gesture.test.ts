import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'

import { useGesture } from './gesture'
import { usePlan } from './store'

/** A view with a handle, and whether a picture is waited for. */
function view() {
  const busy = ref(false)
  let gesture!: ReturnType<typeof useGesture>
  const page = mount({ setup: () => ((gesture = useGesture(() => busy.value)), () => null) })
  const edits: string[] = []
  const move = (name: string, done = false) => gesture.move(() => void edits.push(name), done)
  return { busy, gesture, page, edits, move }
}

beforeEach(() => setActivePinia(createPinia()))

describe('a gesture', () => {
  it('changes the plan no quicker than pictures come, and then by the newest place', async () => {
    const { busy, edits, move } = view()
    move('one')
    busy.value = true
    await nextTick()
    move('two')
    move('three')
    expect(edits).toEqual(['one'])
    busy.value = false
    await nextTick()
    expect(edits).toEqual(['one', 'three'])
  })

  it('ends where it is let go, whatever is waited for', async () => {
    const { busy, gesture, edits, move } = view()
    busy.value = true
    await nextTick()
    move('one')
    move('two', true)
    expect([edits, gesture.holding.value]).toEqual([['two'], false])
    busy.value = false
    await nextTick()
    expect(edits).toEqual(['two'])
  })

  it('is taken back by itself, and with the view that it is held in', async () => {
    const { busy, gesture, page, edits, move } = view()
    const cancelled = vi.spyOn(usePlan(), 'cancelGesture')
    busy.value = true
    await nextTick()
    move('one')
    gesture.cancel()
    busy.value = false
    await nextTick()
    expect([edits, gesture.holding.value]).toEqual([[], false])
    move('two')
    page.unmount()
    expect(cancelled).toHaveBeenCalledTimes(2)
  })
})
