import { inject, onBeforeUnmount, provide, type InjectionKey } from 'vue'

import type { Pen } from './pen'

/** A point in pixels from the corner of a picture's plot. */
export interface Point {
  x: number
  y: number
}

/** A canvas of a picture, as it is drawn again for a file. */
export interface Layer {
  x: number
  y: number
  width: number
  height: number
  draw: (pen: Pen) => void
}

/** What the parts of a picture know of it. */
export interface Frame {
  /** A pointer's place in the plot. */
  pointAt: (event: { clientX: number; clientY: number }) => Point
  layers: Set<() => Layer>
}

const FRAME: InjectionKey<Frame> = Symbol('frame of a picture')

export function provideFrame(pointAt: Frame['pointAt']): Frame {
  const frame = { pointAt, layers: new Set<() => Layer>() }
  provide(FRAME, frame)
  return frame
}

export function useFrame(): Frame {
  const frame = inject(FRAME)
  if (!frame) throw new Error('a part of a picture outside of one')
  return frame
}

/** A canvas belongs to the picture it stands in, if it stands in one. */
export function useLayer(layer: () => Layer): void {
  const frame = inject(FRAME, null)
  frame?.layers.add(layer)
  onBeforeUnmount(() => frame?.layers.delete(layer))
}
