"""A server that runs for months goes on, under another address and with a certificate that is good."""

import logging
import ssl
import threading
from collections.abc import Callable

from pronostico.network.addresses import Addresses, Reachable
from pronostico.network.certificates import ServedWith, UnusableCertificate

_LOG = logging.getLogger("pronostico.network")
_LOOKED_EVERY_S = 60.0


class Renewal:
    """Looks each minute for other addresses and another certificate, in a thread of its own.

    A connection goes on with the certificate that it began with; new ones get the new one.
    """

    def __init__(
        self,
        context: ssl.SSLContext,
        served_with: ServedWith,
        reachable: Reachable,
        renewed: Callable[[Addresses], ServedWith],
    ) -> None:
        """Begin with what is served with.

        Args:
            context: of the running server, changed in place.
            reachable: where it is reached, kept right.
            renewed: makes or reads the certificate anew where that is needed; raises UnusableCertificate.
        """
        self._context, self._reachable, self._renewed = context, reachable, renewed
        self._authority = served_with.fingerprint
        self._known = served_with.certificate.read_bytes()
        self._fault: str | None = None
        self._stop = threading.Event()

    def look(self) -> bool:
        """Take the addresses and the certificate that are right by now; whether it was another one."""
        self._reachable.look()
        try:
            served_with = self._renewed(self._reachable.addresses)
            content = served_with.certificate.read_bytes()
            if content == self._known:
                return False
            self._context.load_cert_chain(served_with.certificate, served_with.key)
        except (OSError, UnusableCertificate) as error:
            # Said once: what is served with may be good for a while yet.
            if self._fault != str(error):
                _LOG.error("the certificate cannot be renewed: %s", error)
            self._fault = str(error)
            return False
        self._known, self._fault = content, None
        _LOG.info("the certificate was renewed")
        if served_with.fingerprint != self._authority:
            self._authority = served_with.fingerprint
            _LOG.warning("its authority is new: devices have to be told to trust /authority.crt again")
        return True

    def _run(self) -> None:
        while not self._stop.wait(_LOOKED_EVERY_S):
            self.look()

    def start(self) -> None:
        """Begin to look."""
        threading.Thread(target=self._run, name="certificate", daemon=True).start()

    def close(self) -> None:
        """End."""
        self._stop.set()
