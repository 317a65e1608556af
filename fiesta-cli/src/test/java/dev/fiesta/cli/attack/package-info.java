/**
 * What takes minutes: kills, disks that are full, calls of the system that fail, briefs and files spoilt at random. Run with {@code
 * mvn verify -Pattack}; the ordinary build leaves them out.
 */
package dev.fiesta.cli.attack;
