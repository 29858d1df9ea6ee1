export type FacetProps = { part: string | null; onPart: (path: string | null) => void };
