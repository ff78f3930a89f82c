/** A code as one path of squares, a unit each (`qrCode`), with the quiet zone that readers need. */
export const CodeMark = ({
  code,
  title,
  className,
}: {
  code: { size: number; path: string };
  title: string;
  className: string;
}) => (
  <svg viewBox={`-2 -2 ${code.size + 4} ${code.size + 4}`} className={`bg-white ${className}`} role="img" aria-label={title}>
    <path d={code.path} fill="#000" shapeRendering="crispEdges" />
  </svg>
);
