import type { Verdict } from "../api/types";
import { tokens } from "../theme";

/** Stop is an octagon, mind a diamond, fine a ring with a tick: shape as well as colour. */
export function VerdictMark({ verdict, size = 18 }: { verdict: Verdict | "overridden"; size?: number }) {
  const words = verdict === "overridden" ? "stop, overridden" : verdict;
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 18 18"
      role="img"
      aria-label={words}
      style={{ flex: "none", verticalAlign: "middle" }}
    >
      <VerdictShape verdict={verdict} />
    </svg>
  );
}

export function VerdictShape({ verdict }: { verdict: Verdict | "overridden" }) {
  if (verdict === "stop" || verdict === "overridden") {
    const fill = verdict === "stop" ? tokens.stop : tokens.sheet;
    return (
      <>
        <path d="M6 1.5h6L16.5 6v6L12 16.5H6L1.5 12V6Z" fill={fill} stroke={tokens.stop} strokeWidth="1.6" />
        <path d="M5.5 9h7" stroke={verdict === "stop" ? tokens.sheet : tokens.stop} strokeWidth="2.2" />
      </>
    );
  }
  if (verdict === "mind") return <path d="M9 1 17 9 9 17 1 9Z" fill={tokens.mind} />;
  return (
    <>
      <circle cx="9" cy="9" r="7" fill="none" stroke={tokens.fine} strokeWidth="1.8" />
      <path d="m5.6 9.2 2.4 2.4 4.4-4.8" fill="none" stroke={tokens.fine} strokeWidth="1.8" />
    </>
  );
}
