/** A key for a part of a kind of event; it stays the same through all versions, because answers are kept under it. */
export const newKey = (): string => `k${crypto.randomUUID().replaceAll('-', '').slice(0, 12)}`
