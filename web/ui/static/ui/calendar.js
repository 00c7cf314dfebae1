/* Days of the year as people write them. */
export const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
export const LENGTHS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
export const HOURS = 8760;
export const hourOf = (index) => ({ day: Math.floor(index / 24), hour: index % 24 });

/* an hour of the year (0 to 8759) as day, month and hour */
export function dateOf(index) {
  let left = Math.floor(index / 24);
  let month = 0;
  while (left >= LENGTHS[month]) left -= LENGTHS[month++];
  return `${left + 1} ${MONTHS[month]}, ${index % 24} h`;
}

/* a typed date such as “12 Mar 15” as day of the year and hour, noon where none is given; null for anything else */
export function moment(text) {
  const parts = text.toLowerCase().match(/^\s*(\d{1,2})\.?\s*([a-z]{3})[a-z]*\.?(?:[\s,]+(\d{1,2})(?::\d\d)?\s*h?)?\s*$/);
  const month = parts ? MONTHS.findIndex((name) => name.toLowerCase() === parts[2]) : -1;
  const day = parts ? Number(parts[1]) : 0;
  const hour = parts?.[3] === undefined ? 12 : Number(parts[3]);
  if (month < 0 || day < 1 || day > LENGTHS[month] || hour > 23) return null;
  const index = LENGTHS.slice(0, month).reduce((sum, n) => sum + n, 0) + day - 1;
  return { day: index, hour, words: `${day} ${MONTHS[month]}, ${hour} h` };
}
