"""A local authority for the kitchen's own addresses, so that tablets get a secure origin.

The authority is made once and kept in the data folder, its key readable by nobody else. It is limited by name
constraints to the addresses it was made for: who installs it trusts it for this kitchen only.
"""

import ipaddress
import os
import socket
from datetime import UTC, datetime, timedelta
from pathlib import Path
from urllib.parse import urlsplit

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

AUTHORITY_DAYS = 3650
# Browsers refuse server certificates that last longer.
SERVER_DAYS = 390
LOCAL_NAMES = ("localhost", "local", "lan", "home", "internal", "test")
PRIVATE_NETWORKS = (
    "10.0.0.0/8",
    "172.16.0.0/12",
    "192.168.0.0/16",
    "127.0.0.0/8",
    "169.254.0.0/16",
    "fc00::/7",
    "fe80::/10",
    "::1/128",
)


def _name(words: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, words)])


def _general(host: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(host))
    except ValueError:
        return x509.DNSName(host)


def _write_key(path: Path, key: ec.EllipticCurvePrivateKey) -> None:
    data = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
        out.write(data)


def _permitted(hosts: list[str]) -> list[x509.GeneralName]:
    """Names the authority may speak for: local ones, private addresses, and where it is served from now."""
    names: dict[str, x509.GeneralName] = {n: x509.DNSName(n) for n in LOCAL_NAMES}
    for network in PRIVATE_NETWORKS:
        names[network] = x509.IPAddress(ipaddress.ip_network(network))
    for host in hosts:
        try:
            names[host] = x509.IPAddress(ipaddress.ip_network(host))
        except ValueError:
            names[host] = x509.DNSName(host)
    return list(names.values())


def _covers(made: x509.Certificate, hosts: list[str]) -> bool:
    subtrees = made.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    for host in hosts:
        try:
            address = ipaddress.ip_address(host)
            networks = [ipaddress.ip_network(str(n.value)) for n in subtrees if isinstance(n, x509.IPAddress)]
            if not any(address in network for network in networks):
                return False
        except ValueError:
            named = [n.value for n in subtrees if isinstance(n, x509.DNSName)]
            if not any(host == n or host.endswith("." + n) for n in named):
                return False
    return True


def authority(folder: Path, hosts: list[str]) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    """The authority of this kitchen, made on first use; made anew only where it may not speak for a host of
    now.
    """
    folder.mkdir(parents=True, exist_ok=True)
    crt, key_file = folder / "authority.crt", folder / "authority.key"
    if crt.exists() and key_file.exists():
        key = serialization.load_pem_private_key(key_file.read_bytes(), None)
        assert isinstance(key, ec.EllipticCurvePrivateKey)
        there = x509.load_pem_x509_certificate(crt.read_bytes())
        if _covers(there, hosts):
            return there, key
    key = ec.generate_private_key(ec.SECP256R1())
    name = _name(f"Yeasty Trial kitchen authority ({socket.gethostname()})")
    start = datetime.now(UTC) - timedelta(minutes=5)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(start)
        .not_valid_after(start + timedelta(days=AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(
            x509.KeyUsage(False, False, False, False, False, True, True, False, False), critical=True
        )
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .add_extension(
            x509.NameConstraints(permitted_subtrees=_permitted(hosts), excluded_subtrees=None),
            critical=True,
        )
        .sign(key, hashes.SHA256())
    )
    _write_key(key_file, key)
    crt.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return made, key


def server_certificate(folder: Path, hosts: list[str]) -> tuple[Path, Path]:
    """Certificate chain and key for these hosts, made anew at every start: addresses change."""
    issuer, issuer_key = authority(folder, hosts)
    key = ec.generate_private_key(ec.SECP256R1())
    start = datetime.now(UTC) - timedelta(minutes=5)
    made = (
        x509.CertificateBuilder()
        .subject_name(_name(hosts[0]))
        .issuer_name(issuer.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(start)
        .not_valid_after(start + timedelta(days=SERVER_DAYS))
        .add_extension(
            x509.SubjectAlternativeName([_general(h) for h in dict.fromkeys(hosts)]), critical=False
        )
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(issuer_key.public_key()), critical=False
        )
        .sign(issuer_key, hashes.SHA256())
    )
    crt, key_file = folder / "server.crt", folder / "server.key"
    _write_key(key_file, key)
    crt.write_bytes(
        made.public_bytes(serialization.Encoding.PEM) + issuer.public_bytes(serialization.Encoding.PEM)
    )
    return crt, key_file


def is_public_name(address: str) -> bool:
    """Whether the host of an address is a name that means the same everywhere, so that browsers may be told
    to keep to HTTPS.

    >>> [is_public_name(a) for a in ("https://kitchen.example.org", "https://192.168.0.7:8765", "https://kitchen.local")]
    [True, False, False]
    """
    host = urlsplit(address).hostname or ""
    try:
        ipaddress.ip_address(host)
        return False
    except ValueError:
        return "." in host and host.rsplit(".", 1)[1] not in LOCAL_NAMES


def own_address() -> str:
    """The address of this machine that others on its network would use; no packet is sent to find it."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as s:
        try:
            s.connect(("192.0.2.1", 9))
            return str(s.getsockname()[0])
        except OSError:
            return "127.0.0.1"
