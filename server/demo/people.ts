/** Who can be entered with one click, on the demonstration only. */
export const DEMO_EMAIL = 'mo@ternbay.example';
export const DEMO_PASSWORD = 'nine-degrees-and-rising';
