// Which addresses are of the public internet. What the registries of IANA list as special and not globally reachable is
// not (IPv4 and IPv6 Special-Purpose Address Registries, RFC 6890), and neither is what hides an IPv4 address.
import ipaddr from 'ipaddr.js';

/** Blocks of IPv4 that are not globally reachable, or stand for other addresses. */
const NOT_PUBLIC_V4 = [
  '0.0.0.0/8', // this network (RFC 791)
  '10.0.0.0/8', // private use (RFC 1918)
  '100.64.0.0/10', // shared address space (RFC 6598)
  '127.0.0.0/8', // loopback (RFC 1122)
  '169.254.0.0/16', // link local (RFC 3927)
  '172.16.0.0/12', // private use (RFC 1918)
  '192.0.0.0/24', // protocol assignments (RFC 6890)
  '192.0.2.0/24', // documentation (RFC 5737)
  '192.88.99.0/24', // 6to4 relays, deprecated (RFC 7526)
  '192.168.0.0/16', // private use (RFC 1918)
  '198.18.0.0/15', // benchmarking (RFC 2544)
  '198.51.100.0/24', // documentation (RFC 5737)
  '203.0.113.0/24', // documentation (RFC 5737)
  '224.0.0.0/4', // multicast (RFC 5771)
  '240.0.0.0/4', // reserved, and limited broadcast (RFC 1112, RFC 8190)
] as const;

/** Blocks within IPv6's global unicast space, 2000::/3, that are not globally reachable or stand for IPv4 addresses. */
const NOT_PUBLIC_V6 = [
  '2001::/23', // protocol assignments, Teredo and ORCHID among them (RFC 2928, 4380, 4843, 7343)
  '2001:db8::/32', // documentation (RFC 3849)
  '2002::/16', // 6to4 (RFC 3056)
  '3fff::/20', // documentation (RFC 9637)
] as const;

const v4 = NOT_PUBLIC_V4.map((block) => ipaddr.IPv4.parseCIDR(block));
const v6 = NOT_PUBLIC_V6.map((block) => ipaddr.IPv6.parseCIDR(block));
/** Everything else of IPv6 is loopback, local, translated, discarded, multicast or not assigned (RFC 4291). */
const globalUnicast = ipaddr.IPv6.parseCIDR('2000::/3');

/**
 * Whether an address is one of the public internet's. An IPv4 address mapped into IPv6 (RFC 4291 section 2.5.5.2) is
 * looked at as IPv4, since systems connect to it as such.
 *
 * @example isPublic('93.184.216.34') // true
 * @example isPublic('::7f00:1') // false
 */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  const parsed = ipaddr.process(address);
  if (parsed instanceof ipaddr.IPv4) return !v4.some((block) => parsed.match(block));
  return parsed.match(globalUnicast) && !v6.some((block) => parsed.match(block));
}
