/** 67.125 as 1:07.13 */
export function time(seconds: number, digits = 2): string {
  const minutes = Math.floor(seconds / 60);
  const rest = (seconds - minutes * 60).toFixed(digits).padStart(digits ? digits + 3 : 2, '0');
  return `${minutes}:${rest}`;
}

export const day = (iso: string) =>
  new Date(iso).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });

export const many = (n: number, thing: string) => `${n} ${thing}${n === 1 ? '' : 's'}`;
