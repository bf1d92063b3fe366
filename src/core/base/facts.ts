/** Figures as steps and check-ups give them: plain JSON under stable names. */
export type Fact = string | number | boolean | null | readonly Fact[] | { readonly [key: string]: Fact | undefined }
export type Facts = { readonly [key: string]: Fact | undefined }
