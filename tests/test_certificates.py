"""Certificates of one's own: whom they vouch for, when they are renewed, and what is refused."""

import ipaddress
import socket
import ssl
import threading
from datetime import UTC, datetime, timedelta
from itertools import pairwise

import pytest
from cryptography import x509
from cryptography.x509.verification import PolicyBuilder, Store, VerificationError

from pronostico.network.addresses import Addresses, Reachable, own_addresses
from pronostico.network.certificates import UnusableCertificate, given_certificate, own_certificate
from pronostico.network.renewal import Renewal

NOW = datetime(2026, 6, 1, tzinfo=UTC)


def at(*ips, names=("bench", "bench.local")):
    return Addresses(names, tuple(map(ipaddress.ip_address, ips)))


HOME = at("192.168.1.20")


def vouches(served_with, subject, now=NOW):
    """Whether who trusts the authority is satisfied with the certificate for a name or address."""
    leaf, *rest = x509.load_pem_x509_certificates(served_with.certificate.read_bytes())
    store = Store([x509.load_pem_x509_certificate(served_with.authority.read_bytes())])
    kind = x509.IPAddress if not isinstance(subject, str) else x509.DNSName
    try:
        PolicyBuilder().store(store).time(now).build_server_verifier(kind(subject)).verify(leaf, rest)
    except VerificationError:
        return False
    return True


def test_it_vouches_for_this_machine_and_for_no_other(tmp_path):
    made = own_certificate(tmp_path, HOME, now=NOW)
    assert all(vouches(made, one) for one in ("bench", "bench.local", "localhost", *HOME.ips))
    assert not vouches(made, "elsewhere.example")
    assert not vouches(made, ipaddress.ip_address("192.168.1.21"))
    assert {path.stat().st_mode & 0o077 for path in tmp_path.iterdir()} == {0}


def test_the_same_is_served_with_until_it_is_about_to_run_out_and_the_authority_stays(tmp_path):
    kept = [
        (made.certificate.read_bytes(), made.authority.read_bytes())
        for days in (0, 300, 370)
        for made in [own_certificate(tmp_path, HOME, now=NOW + timedelta(days=days))]
    ]
    assert [one[0] == other[0] for one, other in pairwise(kept)] == [True, False]
    assert len({authority for _, authority in kept}) == 1


def test_another_private_address_needs_no_other_authority_and_any_other_does(tmp_path):
    first = own_certificate(tmp_path, HOME, now=NOW).authority.read_bytes()
    moved = own_certificate(tmp_path, at("10.0.0.7"), now=NOW)
    assert vouches(moved, ipaddress.ip_address("10.0.0.7"))
    assert moved.authority.read_bytes() == first
    for addresses in (at("203.0.113.9"), at("10.0.0.7", names=("lathe", "lathe.local"))):
        public = own_certificate(tmp_path, addresses, now=NOW)
        assert vouches(public, addresses.ips[0])
        assert vouches(public, addresses.names[0])
        assert public.authority.read_bytes() != first


def test_a_clock_that_is_wrong_is_told(tmp_path):
    own_certificate(tmp_path, HOME, now=NOW)
    with pytest.raises(UnusableCertificate, match="clock says 2020-01-01"):
        own_certificate(tmp_path, HOME, now=datetime(2020, 1, 1, tzinfo=UTC))


def test_a_certificate_of_ones_own_is_looked_at_before_it_is_served_with(tmp_path):
    made, other = (
        own_certificate(tmp_path / "a", HOME, now=NOW),
        own_certificate(tmp_path / "b", HOME, now=NOW),
    )
    assert given_certificate(made.certificate, made.key, now=NOW).authority is None
    with pytest.raises(UnusableCertificate, match="ran out on 2027-06"):
        given_certificate(made.certificate, made.key, now=NOW + timedelta(days=900))
    with pytest.raises(UnusableCertificate, match="clock"):
        given_certificate(made.certificate, made.key, now=NOW - timedelta(days=900))
    with pytest.raises(UnusableCertificate, match="is not the key of"):
        given_certificate(made.certificate, other.key, now=NOW)
    with pytest.raises(UnusableCertificate, match="no certificate that can be read"):
        given_certificate(made.key, made.key, now=NOW)
    with pytest.raises(UnusableCertificate, match="no key that can be read"):
        given_certificate(made.certificate, tmp_path / "missing", now=NOW)


def test_this_machines_own_addresses_are_reachable_from_elsewhere():
    found = own_addresses()
    assert found.names[0]
    assert not any(ip.is_loopback for ip in found.ips)
    assert "127.0.0.1" in found.hosts
    assert all(link.startswith("https://") and link.endswith(":8341/") for link in found.links(8341))


def serial_number(served_with):
    return x509.load_pem_x509_certificate(served_with.certificate.read_bytes()).serial_number


class Listening:
    """Answers each encrypted connection with nothing, as a server with this context does."""

    def __init__(self, context):
        self.socket, self.context = socket.create_server(("127.0.0.1", 0)), context
        threading.Thread(target=self._run, daemon=True).start()

    def _run(self):
        while True:
            try:
                connection, _ = self.socket.accept()
                with self.context.wrap_socket(connection, server_side=True):
                    pass
            except ssl.SSLError:
                continue
            except OSError:
                return

    def serial_number(self):
        """Of the certificate that a new connection is given."""
        return x509.load_pem_x509_certificate(
            ssl.get_server_certificate(self.socket.getsockname()).encode()
        ).serial_number


@pytest.fixture
def listening():
    made = Listening(ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER))
    yield made
    made.socket.close()


@pytest.fixture
def found_at(monkeypatch):
    """Decides under which addresses this machine finds itself."""
    found = [HOME]
    monkeypatch.setattr("pronostico.network.addresses.own_addresses", lambda: found[0])
    return found


@pytest.fixture
def off_the_network(found_at):
    found_at[0] = at()
    return Reachable(8341, HOME)


def test_a_server_that_runs_goes_on_under_another_address(tmp_path, listening, found_at):
    def certificate(addresses):
        return own_certificate(tmp_path, addresses, now=NOW)

    first = certificate(HOME)
    listening.context.load_cert_chain(first.certificate, first.key)
    reachable = Reachable(8341, HOME)
    renewal = Renewal(listening.context, first, reachable, certificate)
    found_at[0] = at("192.168.7.4")
    assert renewal.look()
    assert reachable.links[0] == "https://192.168.7.4:8341/"
    assert "192.168.7.4" in reachable.hosts and "192.168.1.20" not in reachable.hosts
    assert vouches(certificate(reachable.addresses), ipaddress.ip_address("192.168.7.4"))
    assert listening.serial_number() == serial_number(first)
    # A plug pulled out: it mostly comes back as it was.
    found_at[0] = at()
    assert not renewal.look()
    assert reachable.links[0] == "https://192.168.7.4:8341/"


def test_a_server_that_runs_goes_on_with_a_renewed_certificate(tmp_path, listening, off_the_network):
    days = [0]

    def certificate(addresses):
        return own_certificate(tmp_path, addresses, now=NOW + timedelta(days=days[0]))

    first = certificate(HOME)
    listening.context.load_cert_chain(first.certificate, first.key)
    renewal, before = (
        Renewal(listening.context, first, off_the_network, certificate),
        listening.serial_number(),
    )
    assert not renewal.look()
    assert listening.serial_number() == before
    days[0] = 370
    assert renewal.look()
    assert listening.serial_number() != before


def test_what_cannot_be_renewed_is_logged_once_and_served_on(tmp_path, listening, off_the_network, caplog):
    made = own_certificate(tmp_path, HOME, now=NOW)
    listening.context.load_cert_chain(made.certificate, made.key)

    def ran_out(_):
        return given_certificate(made.certificate, made.key, now=NOW + timedelta(days=900))

    renewal = Renewal(listening.context, made, off_the_network, ran_out)
    before = listening.serial_number()
    assert not renewal.look()
    assert not renewal.look()
    assert [one.message.split(":")[0] for one in caplog.records] == ["the certificate cannot be renewed"]
    assert listening.serial_number() == before
