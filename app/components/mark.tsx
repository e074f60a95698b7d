/** The mark: a bird's head with a long thin crest. */
export const Mark = ({ size = 26 }: { size?: number }) => (
  <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
    <path
      fill="none"
      stroke="var(--ink)"
      strokeWidth="1.8"
      strokeLinecap="round"
      d="M14 9C12 5 9 3 5 2.5M14.5 9.5C11 7 8 6.5 4 7"
    />
    <path
      fill="var(--plumage)"
      d="M12 11C13 7 18 5.5 21.5 8C23 9 24 10.5 23.5 12.5C23 15 21.5 16 21 19C20.6 22 20 24 19.5 27L8 27C8.5 20 10 15.5 12 11Z"
    />
    <path fill="var(--sheen)" d="M8 27C8.3 23 9 20.5 10 18C11 22 15 25 19.8 25.5L19.5 27Z" />
    <path fill="var(--ink)" d="M22.5 9C25 9 27.500 9.800 29.500 11C27.500 11.800 25.500 12.300 23.500 12.200Z" />
    <circle cx="19.5" cy="10.3" r="1.3" fill="#ffffff" />
  </svg>
);
