/**
 * A value for a jsonb column. The driver would write arrays as PostgreSQL arrays, so every JSON value is made text here and nowhere else; the
 * type stays that of the value, because that is what the column gives back.
 */
export const json = <T>(value: T): T => JSON.stringify(value) as T
