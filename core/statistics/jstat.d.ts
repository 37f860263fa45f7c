/** What is used of jstat, which brings no types. */
declare module 'jstat' {
  export const jStat: {
    centralF: {
      /** The value below which a share of the F distribution with these degrees of freedom lies. */
      inv(share: number, df1: number, df2: number): number;
    };
  };
}
