"""Under which names and addresses other devices of the network reach this machine."""

import ipaddress
import logging
import socket
from dataclasses import dataclass, field

IpAddress = ipaddress.IPv4Address
LOOPBACK = IpAddress("127.0.0.1")
# A UDP socket that is "connected" sends nothing, and says from which address it would. This one is for
# documentation alone (RFC 5737).
_ELSEWHERE = ("203.0.113.1", 9)
_LOG = logging.getLogger("pronostico.network")


@dataclass(frozen=True, slots=True)
class Addresses:
    """What this machine is called, and its addresses beyond the loopback."""

    names: tuple[str, ...]
    ips: tuple[IpAddress, ...]

    @property
    def hosts(self) -> list[str]:
        """All of them as they stand in an address, the loopback's among them."""
        return [*map(str, (*self.ips, LOOPBACK)), *self.names, "localhost"]

    def links(self, port: int) -> list[str]:
        """Where other devices find the application; numbers first, since every network knows those."""
        return [f"https://{host}:{port}/" for host in [*map(str, self.ips), *self.names]]


def _own_ips() -> list[IpAddress]:
    found: list[IpAddress] = []
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            probe.connect(_ELSEWHERE)
            found.append(IpAddress(probe.getsockname()[0]))
    except OSError:
        # Not on any network now.
        pass
    try:
        resolved = socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET, socket.SOCK_STREAM)
    except OSError:
        resolved = []
    found += [IpAddress(one[4][0]) for one in resolved]
    return [one for one in dict.fromkeys(found) if not (one.is_loopback or one.is_unspecified)]


def own_addresses() -> Addresses:
    """The names and addresses of this machine."""
    name = socket.gethostname().lower().removesuffix(".")
    bare = name.split(".")[0]
    return Addresses(tuple(dict.fromkeys((name, f"{bare}.local"))), tuple(_own_ips()))


@dataclass(slots=True)
class Reachable:
    """Where a running server is reached; the network may give its machine another address meanwhile."""

    port: int
    addresses: Addresses = field(default_factory=own_addresses)

    @property
    def hosts(self) -> list[str]:
        """What an address of ours may begin with."""
        return self.addresses.hosts

    @property
    def links(self) -> list[str]:
        """Where other devices find the application."""
        return self.addresses.links(self.port)

    def look(self) -> bool:
        """Find out where it is reached by now; whether that is elsewhere."""
        found = own_addresses()
        # Off the network nobody reaches it; it mostly comes back under the address that it had.
        if not found.ips or found == self.addresses:
            return False
        self.addresses = found
        _LOG.warning("this machine has other addresses: reached at %s", " ".join(self.links))
        return True
