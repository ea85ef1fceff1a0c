/** A value that is listened to by those who show it, and by nobody else. */
export class Watched<T> {
  private readonly listeners = new Set<() => void>();

  constructor(private value: T) {}

  readonly get = (): T => this.value;

  readonly change = (next: (before: T) => T) => {
    this.value = next(this.value);
    for (const told of this.listeners) told();
  };

  /** Calls back after every change until what it returns is called. */
  readonly subscribe = (told: () => void) => {
    this.listeners.add(told);
    return () => {
      this.listeners.delete(told);
    };
  };
}
