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
