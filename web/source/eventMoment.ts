/** An instant as people read it, in the zone of the event, which is named where it is not the reader's. */
export function momentIn(at: string | null, zone: string, locale = 'en-GB'): string {
  if (at === null) return ''
  return new Intl.DateTimeFormat(locale, {
    timeZone: zone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZoneName: 'short',
  }).format(new Date(at))
}

/** How long is left, as a clock shows it: days only where there are some. */
export function leftText(milliseconds: number): string {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000))
  const two = (value: number): string => String(value).padStart(2, '0')
  const days = Math.floor(seconds / 86_400)
  const clock = `${two(Math.floor((seconds % 3600) / 60))}:${two(seconds % 60)}`
  const hours = Math.floor((seconds % 86_400) / 3600)
  if (days > 0) return `${days} d ${two(hours)}:${clock}`
  return hours > 0 ? `${hours}:${clock}` : clock
}
