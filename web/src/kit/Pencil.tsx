/** The sign of the house. */
export const Pencil = ({ size = 24 }: { size?: number }) => (
  <svg
    width={size}
    height={size}
    viewBox="0 0 24 24"
    fill="none"
    stroke="var(--plum)"
    strokeWidth="1.8"
    strokeLinejoin="round"
    strokeLinecap="round"
    aria-hidden
  >
    <path d="M2.5 20.5 6 13 15.5 4c1.8-1.6 4.600-.7 5 1.700.2 1-.2 2-.9 2.700L10 17.600z" />
    <path d="M2.500 20.500 13.500 10" />
  </svg>
);
