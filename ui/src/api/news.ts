/** Ids of what changed; null when anything may have (after a connection was lost, or when it was too much to name). */
export type News = { records: number[]; tasks: number[]; clock?: boolean } | null

/** What a message of the live stream says; null when so much changed that it is not named one by one. */
export function newsOf(message: string): News {
  const said = JSON.parse(message) as NonNullable<News> | { all: true }
  return 'all' in said ? null : said
}
