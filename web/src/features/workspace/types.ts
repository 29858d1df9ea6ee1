export type FacetProps = { cursor: number; part: string | null; onPart: (path: string | null) => void };
