import ipaddr from 'ipaddr.js';
import { describe, expect, it } from 'vitest';
import { isPublic } from './addresses.ts';

/**
 * The IANA IPv4 Special-Purpose Address Registry, each block with whether it is globally reachable; from memory, as
 * published (RFC 6890 and the RFCs it names).
 */
const IPV4: [block: string, reachable: boolean][] = [
  ['0.0.0.0/8', false],
  ['0.0.0.0/32', false],
  ['10.0.0.0/8', false],
  ['100.64.0.0/10', false],
  ['127.0.0.0/8', false],
  ['169.254.0.0/16', false],
  ['172.16.0.0/12', false],
  ['192.0.0.0/24', false],
  ['192.0.0.0/29', false],
  ['192.0.0.8/32', false],
  ['192.0.0.170/32', false],
  ['192.0.0.171/32', false],
  ['192.0.2.0/24', false],
  ['192.31.196.0/24', true],
  ['192.52.193.0/24', true],
  ['192.88.99.0/24', false], // deprecated, RFC 7526
  ['192.168.0.0/16', false],
  ['192.175.48.0/24', true],
  ['198.18.0.0/15', false],
  ['198.51.100.0/24', false],
  ['203.0.113.0/24', false],
  ['240.0.0.0/4', false],
  ['255.255.255.255/32', false],
  ['224.0.0.0/4', false], // its own registry, RFC 5771
];

/** The IANA IPv6 Special-Purpose Address Registry, in the same way. */
const IPV6: [block: string, reachable: boolean][] = [
  ['::1/128', false],
  ['::/128', false],
  ['::ffff:0:0/96', false],
  ['64:ff9b::/96', false], // reachable, but only through a translator of whoever connects
  ['64:ff9b:1::/48', false],
  ['100::/64', false],
  ['100:0:0:1::/64', false],
  ['2001::/23', false],
  ['2001::/32', false],
  ['2001:2::/48', false],
  ['2001:10::/28', false],
  ['2001:db8::/32', false],
  ['2002::/16', false],
  ['2620:4f:8000::/48', true],
  ['3fff::/20', false],
  ['5f00::/16', false],
  ['fc00::/7', false],
  ['fe80::/10', false],
  ['fec0::/10', false], // deprecated, RFC 3879
  ['ff00::/8', false], // its own registry, RFC 4291
];

/** The first, the last and a middle address of a block. */
function samples(block: string): string[] {
  const [address, bits] = ipaddr.parseCIDR(block);
  const bytes = address.toByteArray();
  const at = (fill: number) =>
    ipaddr
      .fromByteArray(
        bytes.map((byte, index) => {
          const free = Math.min(8, Math.max(0, (index + 1) * 8 - bits));
          const mask = (1 << free) - 1;
          return (byte & ~mask) | (fill & mask);
        }),
      )
      .toString();
  return [at(0), at(0x55), at(0xff)];
}

describe('addresses of the special-purpose registries', () => {
  it.each(IPV4)('%s: public %s', (block, reachable) => {
    for (const address of samples(block)) {
      expect(isPublic(address), address).toBe(reachable);
      // Mapped into IPv6 it is the same address (RFC 4291 section 2.5.5.2).
      expect(isPublic(`::ffff:${address}`), `::ffff:${address}`).toBe(reachable);
    }
  });

  it.each(IPV6)('%s: public %s', (block, reachable) => {
    for (const address of samples(block))
      if (!address.startsWith('::ffff:')) expect(isPublic(address), address).toBe(reachable);
  });

  it('in every other form of an IPv4 address inside IPv6 are refused', () => {
    for (const address of [
      '::7f00:1',
      '::127.0.0.1',
      '::a00:1',
      '::ffff:0:127.0.0.1',
      '64:ff9b::10.0.0.1',
      '2002:a00:1::',
    ])
      expect(isPublic(address), address).toBe(false);
  });

  it('are told from what is next to them', () => {
    for (const address of ['1.0.0.0', '9.255.255.255', '11.0.0.0', '100.63.255.255', '100.128.0.0', '172.15.255.255'])
      expect(isPublic(address), address).toBe(true);
    for (const address of [
      '172.32.0.0',
      '198.17.255.255',
      '198.20.0.0',
      '223.255.255.255',
      '2001:200::',
      '2003::',
      '3ffe::',
    ])
      expect(isPublic(address), address).toBe(true);
    for (const no of ['', 'localhost', '127.0.0.1:80', '1.2.3.4.5', '::g']) expect(isPublic(no), no).toBe(false);
  });
});
