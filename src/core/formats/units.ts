/** Length units of files, in mm each. 3MF names: 3MF Core Specification 1.3, section 3.4.1. */
export const unitsInMm = { mm: 1, cm: 10, inch: 25.4, m: 1000, foot: 304.8, micron: 0.001 } as const
export type Unit = keyof typeof unitsInMm
export const unitNames = Object.keys(unitsInMm) as Unit[]
