import type { SettingId, Settings } from '#core/settings';

/** Something made of settings, and what those settings were that were asked on the way. */
interface Made<T> {
  asked: [SettingId, Settings[SettingId]][];
  value: T;
}

/**
 * Remembers what was made of settings, by those alone that were asked while it was made: no list says what rests on what.
 * Who asks for it while something else is being made has asked for all that it rests on.
 */
export class BySettings<T> {
  private readonly made: Made<T>[] = [];

  /** @param most so many are kept, the last ones first */
  constructor(private readonly most = 4) {}

  /** @param make must rest on nothing that changes beside the settings it is given */
  of(s: Settings, make: (s: Settings) => T): T {
    const k = this.made.findIndex(({ asked }) => asked.every(([id, value]) => s[id] === value));
    const known = k < 0 ? noted(s, make) : this.made.splice(k, 1)[0]!;
    this.made.unshift(known);
    this.made.length = Math.min(this.made.length, this.most);
    return known.value;
  }
}

function noted<T>(s: Settings, make: (s: Settings) => T): Made<T> {
  const asked = new Map<SettingId, Settings[SettingId]>();
  const value = make(
    new Proxy(s, {
      get(of, id: SettingId) {
        const value = of[id];
        asked.set(id, value);
        return value;
      },
      ownKeys() {
        throw new Error('what is remembered by its settings must ask for each by name');
      },
    }),
  );
  return { asked: [...asked], value };
}
