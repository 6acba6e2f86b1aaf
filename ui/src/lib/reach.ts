import { isWeb } from './isWeb'

/**
 * Where a press on a value leads: a web page, a mail to it (RFC 6068) or a call (RFC 3966); nothing for what is none.
 * @param value in the plain form
 */
export function reachOf(type: string, value: unknown): string | undefined {
  if (typeof value !== 'string' || !value) return undefined
  if (type === 'url') return isWeb(value) ? value : undefined
  if (type === 'email') return `mailto:${encodeURIComponent(value).replace('%40', '@')}`
  const digits = value.replace(/\D/g, '')
  return type === 'phone' && digits ? `tel:${value.trim().startsWith('+') ? '+' : ''}${digits}` : undefined
}
