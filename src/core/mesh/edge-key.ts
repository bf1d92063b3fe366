/** One number for an edge, whichever way it runs; vertices are told apart up to 2^26, and the number stays a whole one in a double. */
export const edgeKey = (a: number, b: number): number => (a < b ? a * 67108864 + b : b * 67108864 + a)
