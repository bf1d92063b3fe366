const span = 67108864

/** One number for an edge, whichever way it runs; vertices are told apart up to 2^26, and the number stays a whole one in a double. */
export const edgeKey = (a: number, b: number): number => (a < b ? a * span + b : b * span + a)

/** The two vertices of an edge's key. */
export const endsOfKey = (key: number): [number, number] => [Math.floor(key / span), key % span]
