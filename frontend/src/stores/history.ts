/** Undo and redo over immutable states; a gesture may replace the newest state while it lasts. */
export class History<T> {
  private past: T[] = []
  private future: T[] = []
  private readonly most = 200

  constructor(public present: T) {}

  /** Make a new state the present one. */
  commit(state: T): void {
    this.past.push(this.present)
    if (this.past.length > this.most) this.past.shift()
    this.present = state
    this.future = []
  }

  get canUndo(): boolean {
    return this.past.length > 0
  }

  get canRedo(): boolean {
    return this.future.length > 0
  }

  undo(): void {
    const before = this.past.pop()
    if (before === undefined) return
    this.future.push(this.present)
    this.present = before
  }

  redo(): void {
    const after = this.future.pop()
    if (after === undefined) return
    this.past.push(this.present)
    this.present = after
  }
}
