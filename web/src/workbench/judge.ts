import type { Band, Bands, Claim } from '../api/types';

/** A claim with the band it is judged by, once that is there. */
export type JudgedClaim = Claim & { band?: Band | undefined };

/** Central claims with the verdicts and bands of the samples; those of the edit before stand beside no figure of this one. */
export function judge(claims: Claim[], bands: Bands | undefined, current: boolean): JudgedClaim[] {
  return claims.map((claim) => {
    const odds = current ? bands?.odds.find((o) => o.goal === claim.goal) : undefined;
    return {
      ...claim,
      band: current ? bands?.bands.find((b) => b.id === claim.figure) : undefined,
      probability: odds?.probability ?? null,
      verdict: odds && claim.verdict !== 'cannot_tell' ? odds.verdict : claim.verdict,
    };
  });
}
