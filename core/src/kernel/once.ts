/** What is made of an object that is never altered, made once for as long as it lives. */
export function onceFor<O extends object, T>(make: (object: O) => T): (object: O) => T {
  const made = new WeakMap<O, { of: T }>();
  return (object) => {
    let known = made.get(object);
    if (!known) made.set(object, (known = { of: make(object) }));
    return known.of;
  };
}

/** The same of the object that was asked for last alone, where what is made is too large to be kept for all. */
export function onceForLast<O extends object, T>(make: (object: O) => T): (object: O) => T {
  let last: { object: WeakRef<O>; of: T } | null = null;
  return (object) => {
    if (last?.object.deref() !== object) last = { object: new WeakRef(object), of: make(object) };
    return last.of;
  };
}
