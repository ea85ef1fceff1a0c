import type { Band, Bands, Claim } from '../api/types';

/** A claim with the band it is judged by, once that is there. */
export type JudgedClaim = Claim & { band?: Band | undefined };

/** Central claims with the verdicts and bands of the samples. Bands of the edit before may still be shown; their verdicts may not. */
export function judge(claims: Claim[], bands: Bands | undefined, current: boolean): JudgedClaim[] {
  return claims.map((claim) => {
    const odds = current ? bands?.odds.find((o) => o.goal === claim.goal) : undefined;
    return {
      ...claim,
      band: bands?.bands.find((b) => b.id === claim.figure),
      probability: odds?.probability ?? null,
      verdict: odds && claim.verdict !== 'cannot_tell' ? odds.verdict : claim.verdict,
    };
  });
}
