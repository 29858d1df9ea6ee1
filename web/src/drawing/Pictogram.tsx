// Thin line: what you do. Thick line: what it does.
const PICTURES: Record<string, [string, string]> = {
  lamp: ["M0 10H20V2H60V10H92", "M0 36H20V16C22 26 26 29 32 29H60V36H92"],
  led: ["M0 10H20V2H60V10H92", "M0 36H20V24H60V36H92"],
  motor: ["M0 10H20V2H60V10H92", "M0 36H20V14C24 14 28 27 40 27H60V36H92"],
  buzzer: [
    "M0 10H20V2H60V10H92",
    "M0 36H20V24L24 20L28 28L32 20L36 28L40 20L44 28L48 20L52 28L56 20L60 24V36H92",
  ],
  solenoid: [
    "M0 10H20V2H60V10H92",
    "M0 36H20C28 14 34 14 38 14L42 20C46 15 52 14 60 14C64 30 68 36 76 36H92",
  ],
  module: ["M0 10H20V2H60V10H92", "M0 36H20V12C22 24 26 26 32 26H60V36H92"],
  contact: ["M0 10H36V2H92", "M0 34H30L40 20H62M62 34L70 34H92M62 20H92"],
  board: ["M0 10H20V2H60V10H92", "M0 18H20V36H60V18H92"],
  coil: ["M0 10H20V2H60V10H92", "M0 36H20C26 20 30 18 36 18H60C66 30 70 36 78 36H92"],
  heater: ["M0 10H20V2H60V10H92", "M0 36H20V20H60V36H92"],
  latch: ["M0 10H20V2H30V10H92", "M0 36H20V18H92"],
  oneshot: ["M0 10H20V2H30V10H92", "M0 36H20V18H70V36H92"],
  delay: ["M0 10H16V2H92", "M0 36H54V18H92"],
  offdelay: ["M0 10H20V2H36V10H92", "M0 36H20V18H66C72 18 72 36 80 36H92"],
  blink: ["M0 8H92", "M0 36H8V18H24V36H40V18H56V36H72V18H88V36H92"],
  dimmer: ["M0 8H30L62 2H92", "M0 36H6V18H10V36H20V18H26V36H36V18H46V36H52V18H66V36H70V18H88V36H92"],
  select: ["M0 8H10V2H34V8H60V14H92", "M0 24H34V18H60V38H92"],
  ac: ["M0 10H26V2H92", "M0 28H32C36 12 40 12 44 28S52 44 56 28S64 12 68 28S76 44 80 28S88 12 92 28"],
};

export function Pictogram({ name }: { name: string }) {
  const [thin, thick] = PICTURES[name] ?? PICTURES.coil!;
  return (
    <svg className="pictogram" width={92} height={42} viewBox="-1 -1 95 44" aria-hidden>
      <path d={thin} fill="none" stroke="var(--ink3)" strokeWidth={1.4} />
      <path d={thick} fill="none" stroke="var(--ink)" strokeWidth={2.6} strokeLinejoin="round" />
    </svg>
  );
}
