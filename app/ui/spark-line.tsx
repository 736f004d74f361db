import type { SparkShape as Shape } from "#core/chart/spark-line.ts";

/** The last points of a goal; the criterion dotted. Decoration beside the figures. */
export function SparkLine({ shape: { width, height, path, last, criterion } }: { shape: Shape }) {
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      aria-hidden="true"
      className="overflow-visible"
    >
      {criterion === null ? null : (
        <line
          x1="0"
          x2={width}
          y1={criterion}
          y2={criterion}
          className="stroke-soft"
          strokeWidth="1"
          strokeDasharray="1.5 3"
        />
      )}
      {last ? (
        <>
          <path d={path} fill="none" className="stroke-data" strokeWidth="1.6" strokeLinejoin="round" />
          <circle cx={last[0]} cy={last[1]} r="2.8" className="fill-data" />
        </>
      ) : null}
    </svg>
  );
}
