/** A whole number of 10⁻ᵈ as a decimal, without trailing zeros. stepsText(1450, 2) //=> '14.5' */
export function stepsText(steps: number, digits: number): string {
  if (digits === 0) return String(steps)
  const text = String(steps).padStart(digits + 1, '0')
  const [whole, parts] = [text.slice(0, -digits), text.slice(-digits).replace(/0+$/, '')]
  return parts === '' ? whole : `${whole}.${parts}`
}
