import { afterEach, describe, expect, it, vi } from 'vitest'

import { followTogether } from './together'

/** Pages of one browser: locks that one has at a time, channels, and the streams that are open. */
function browser() {
  const waiting: (() => Promise<unknown>)[] = []
  const channels: { onmessage?: (event: { data: unknown }) => void }[] = []
  const streams: FakeStream[] = []
  class FakeStream {
    static CLOSED = 2
    readyState = 1
    onerror = () => undefined
    listeners = new Map<string, (event: { data: string }) => void>()
    constructor() {
      streams.push(this)
    }
    addEventListener(kind: string, listener: (event: { data: string }) => void) {
      this.listeners.set(kind, listener)
    }
    tell(kind: string, data: string) {
      this.listeners.get(kind)?.({ data })
    }
  }
  class FakeChannel {
    onmessage?: (event: { data: unknown }) => void
    constructor() {
      channels.push(this)
    }
    postMessage(data: unknown) {
      for (const other of channels) if (other !== this) other.onmessage?.({ data })
    }
  }
  let held = false
  const request = (_: string, callback: () => Promise<unknown>) => {
    if (held) waiting.push(callback)
    else {
      held = true
      void callback()
    }
    return Promise.resolve()
  }
  vi.stubGlobal('EventSource', FakeStream)
  vi.stubGlobal('BroadcastChannel', FakeChannel)
  vi.stubGlobal('navigator', { locks: { request } })
  /** The page that has the lock goes. */
  const close = () => void waiting.shift()?.()
  return { streams, close }
}
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

function page() {
  const heard: string[] = []
  const lost = vi.fn()
  followTogether('/events', ['anew', 'job'], (kind, data) => heard.push(`${kind} ${data}`), lost)
  return { heard, lost }
}

describe('following together', () => {
  it('looks by itself unless the stream has said that all may be new', () => {
    vi.useFakeTimers()
    const { streams } = browser()
    const pages = [page(), page()]
    streams[0]?.tell('anew', '')
    vi.runAllTimers()
    for (const each of pages) {
      expect(each.heard).toEqual(['anew '])
      expect(each.lost).not.toHaveBeenCalled()
    }
  })

  it('holds one stream for all pages', () => {
    vi.useFakeTimers()
    const { streams, close } = browser()
    const pages = [page(), page(), page()]
    expect(streams.length).toBe(1)
    streams[0]?.tell('job', '1')
    for (const each of pages) {
      expect(each.heard).toEqual(['job 1'])
    }
    vi.runAllTimers()
    for (const each of pages) expect(each.lost).toHaveBeenCalledTimes(1)
    close()
    expect(streams.length).toBe(2)
    streams[1]?.tell('job', '2')
    expect(pages[2]?.heard).toEqual(['job 1', 'job 2'])
  })

  it('asks again for a stream that was refused, and only then', () => {
    vi.useFakeTimers()
    const { streams } = browser()
    page()
    streams[0]?.onerror()
    vi.runAllTimers()
    expect(streams.length).toBe(1)
    if (streams[0]) streams[0].readyState = 2
    streams[0]?.onerror()
    vi.runAllTimers()
    expect(streams.length).toBe(2)
  })

  it('looks now and then where pages cannot share', () => {
    vi.useFakeTimers()
    browser()
    vi.stubGlobal('navigator', {})
    const { lost } = page()
    vi.advanceTimersByTime(6_000)
    expect(lost).toHaveBeenCalledTimes(3)
  })
})
