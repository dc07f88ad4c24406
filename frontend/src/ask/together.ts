/** What a stream of events tells: its kind, and what it carries as text. */
export type Heard = (kind: string, data: string) => void

/** Milliseconds between two tries for a stream that was refused, and between two looks where pages
 * cannot share one. */
const AGAIN_MS = 5_000
const LOOK_MS = 2_000
/** How long a page waits for its stream before it looks by itself. */
const FIRST_MS = 400

/**
 * Follow a stream of server-sent events together with every other page of this browser.
 *
 * A browser opens few connections to one place; so one page holds the stream and passes on what it
 * hears, and when it goes another takes its place. `lost` says that something may have been missed.
 */
export function followTogether(
  url: string,
  kinds: readonly string[],
  heard: Heard,
  lost: () => void,
) {
  if (typeof EventSource === 'undefined') return
  if (!('locks' in navigator) || typeof BroadcastChannel === 'undefined') {
    setInterval(lost, LOOK_MS)
    return
  }
  // A stream that begins says that all may be new: then nobody need look a second time.
  let told = false
  const hear: Heard = (kind, data) => {
    told ||= kind === 'anew'
    heard(kind, data)
  }
  const others = new BroadcastChannel(url)
  others.onmessage = (event: MessageEvent<[string, string]>) => hear(...event.data)
  void navigator.locks.request(url, () => {
    hold(url, kinds, (kind, data) => {
      others.postMessage([kind, data])
      hear(kind, data)
    })
    // For as long as this page lives.
    return new Promise<never>(() => undefined)
  })
  setTimeout(() => told || lost(), FIRST_MS)
}

function hold(url: string, kinds: readonly string[], heard: Heard): void {
  const stream = new EventSource(url)
  for (const kind of kinds)
    stream.addEventListener(kind, (event) => heard(kind, event.data as string))
  stream.onerror = () => {
    // It tries again by itself unless the server has said no.
    if (stream.readyState === EventSource.CLOSED)
      setTimeout(() => hold(url, kinds, heard), AGAIN_MS)
  }
}
