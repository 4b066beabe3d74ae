const day = new Intl.DateTimeFormat('en-GB', { day: '2-digit', month: 'short', year: 'numeric' });
const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** A moment kept in UTC, in the words of this device's place. */
export const dayOf = (utc: string): string => day.format(new Date(utc));
export const clockOf = (utc: string): string => clock.format(new Date(utc));
