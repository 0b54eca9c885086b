"""What a private cluster bears: power cuts, kills, taken ports, old doors, two first starts; and what it can't bear is said."""

import os
import shutil
import signal
import socket
import stat
import subprocess
import tempfile
import threading
import unittest
from pathlib import Path

import psycopg
from sqlmodel import select

from pondus.running.cluster import PROGRAMS, Cluster
from pondus.running.places import CannotStart, Home
from pondus.running.secrets import APPLICATION, is_closed
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.errors import NewerStudio
from pondus.store.tables import PersonRow


class ClusterTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = Path(tempfile.mkdtemp(prefix="pondus-", dir="/tmp"))
        folder.chmod(0o755)
        self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
        self.home = Home(folder / "studio")

    def cluster(self) -> Cluster:
        cluster = Cluster(self.home, fast=True)
        self.addCleanup(cluster.leave)
        return cluster

    def started(self) -> Cluster:
        cluster = self.cluster()
        cluster.ensure_running()
        return cluster

    def kill(self, cluster: Cluster) -> None:
        """As a power cut would: at once, with all it left lying."""
        assert cluster.process is not None
        os.killpg(cluster.process.pid, signal.SIGKILL)
        cluster.process.wait()

    def answers(self, cluster: Cluster) -> bool:
        with psycopg.connect(cluster.ensure_database("pondus")) as connection:
            return connection.execute("select 1").fetchone() == (1,)


class TestFaults(ClusterTest):
    @unittest.skipIf(os.geteuid() != 0, "only root's copies belong to somebody else")
    def test_a_home_that_was_copied(self) -> None:
        cluster = self.started()
        cluster.leave()
        for each in (self.home.cluster, *self.home.cluster.rglob("*")):
            os.chown(each, 0, 0)
        self.assertTrue(self.answers(self.started()))

    def test_it_is_waited_for_while_it_mends_itself(self) -> None:
        """A killed part makes the server end all others and begin anew: meanwhile it answers nobody, and keeps its lock."""
        cluster = self.started()
        for _ in range(3):
            connection = psycopg.connect(cluster.ensure_database("pondus"))
            os.kill(connection.info.backend_pid, signal.SIGKILL)
            connection.close()
            other = self.cluster()
            other.ensure_running()
            self.assertTrue(self.answers(other))
            other.leave()

    def test_a_lock_that_a_power_cut_left_empty_garbled_or_anothers(self) -> None:
        cluster = self.started()
        for left in (b"", b"\x00\x00\xff\xfe", b"not a number\n", f"{os.getpid()}\n/elsewhere\n".encode(), b"999999\n"):
            self.kill(cluster)
            (self.home.cluster / "postmaster.pid").write_bytes(left)
            cluster.ensure_running()
            self.assertTrue(self.answers(cluster), left)

    def test_a_lock_with_another_servers_number_and_a_folder_open_to_others(self) -> None:
        cluster = self.started()
        other = Cluster(Home(self.home.folder.parent / "other"), fast=True)
        self.addCleanup(other.leave)
        other.ensure_running()
        running = (other.home.cluster / "postmaster.pid").read_text()
        self.kill(cluster)
        (self.home.cluster / "postmaster.pid").write_text(running)
        self.home.cluster.chmod(0o777)
        cluster.ensure_running()
        self.assertTrue(self.answers(cluster))
        self.assertTrue(self.answers(other))

    def test_its_port_taken_meanwhile_it_takes_another_and_says_which(self) -> None:
        cluster = self.started()
        url = cluster.ensure_database("pondus")
        engine = engine_for(url, port_file=cluster.port_file)
        self.addCleanup(engine.dispose)
        migrate(url)
        with session_on(engine) as session:
            session.add(PersonRow(name="Ida"))
        before = int(cluster.port_file.read_text())
        self.kill(cluster)
        with socket.socket() as taken:
            taken.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            taken.bind(("127.0.0.1", before))
            taken.listen()
            cluster.ensure_running()
            self.assertNotEqual(int(cluster.port_file.read_text()), before)
            with session_on(engine) as session:
                self.assertEqual(len(session.exec(select(PersonRow)).all()), 1)

    def test_a_first_start_broken_off_leaves_nothing_in_the_way(self) -> None:
        unfinished = self.home.folder / "cluster.new"
        (unfinished / "base").mkdir(parents=True)
        (unfinished / "PG_VERSION").write_text("15\n")
        self.assertTrue(self.answers(self.started()))
        self.assertFalse(unfinished.exists())

    def test_two_first_starts_at_once_make_one(self) -> None:
        clusters = [self.cluster() for _ in range(3)]
        errors: list[Exception] = []
        started, done = threading.Barrier(4), threading.Event()

        def start(cluster: Cluster) -> None:
            try:
                cluster.ensure_running()
                cluster.ensure_database("pondus")
            except Exception as error:
                errors.append(error)
            started.wait()
            done.wait()  # the database ends with the thread that started it

        threads = [threading.Thread(target=start, args=(each,)) for each in clusters]
        for each in threads:
            each.start()
        started.wait()
        self.addCleanup(lambda: [each.join() for each in threads])
        self.addCleanup(done.set)
        self.assertEqual(errors, [])
        self.assertEqual({each.url("pondus") for each in clusters}, {clusters[0].url("pondus")})

    def test_a_version_file_that_is_gone_is_written_again(self) -> None:
        cluster = self.started()
        self.kill(cluster)
        (self.home.cluster / "PG_VERSION").unlink()
        cluster.ensure_running()
        self.assertTrue(self.answers(cluster))

    def refused(self, says: str) -> None:
        with self.assertRaises(CannotStart) as caught:
            self.cluster().ensure_running()
        self.assertIn(says, caught.exception.message)

    def test_what_is_no_cluster_or_another_postgresqls_is_said(self) -> None:
        self.home.cluster.mkdir(parents=True)
        (self.home.cluster / "notes.txt").write_text("mine")
        self.refused("holds something, but no database")
        (self.home.cluster / "global").mkdir()
        (self.home.cluster / "global" / "pg_control").write_bytes(b"x")
        (self.home.cluster / "PG_VERSION").write_text("13\n")
        self.refused("is of PostgreSQL 13")

    def test_what_the_database_says_in_this_start_is_handed_on(self) -> None:
        cluster = self.started()
        self.kill(cluster)
        (self.home.cluster / "global" / "pg_control").write_bytes(b"")
        with self.assertRaises(CannotStart) as caught:
            cluster.ensure_running()
        self.assertIn("pg_control", caught.exception.message)

    def test_an_older_pondus_on_newer_data_changes_nothing(self) -> None:
        url = self.started().ensure_database("pondus")
        migrate(url)
        with psycopg.connect(url) as connection:
            connection.execute("update alembic_version set version_num = '0999'")
        with self.assertRaises(NewerStudio) as caught:
            migrate(url)
        self.assertIn("newer Pondus", caught.exception.message)


class TestSecrets(ClusterTest):
    def refused(self, cluster: Cluster, **how: str) -> None:
        port = int(cluster.port_file.read_text())
        with self.assertRaises(psycopg.OperationalError):
            psycopg.connect(host="127.0.0.1", port=port, dbname="postgres", connect_timeout=5, **how).close()

    def test_nobody_gets_in_without_a_password_and_the_application_may_little(self) -> None:
        cluster = self.started()
        url = cluster.ensure_database("pondus")
        for how in ({"user": "pondus"}, {"user": "postgres"}, {"user": APPLICATION}, {"user": APPLICATION, "password": "x"}):
            self.refused(cluster, **how)
        with psycopg.connect(url, autocommit=True) as connection:
            role = connection.execute(
                "select rolsuper, rolcreatedb, rolcreaterole from pg_roles where rolname = current_user"
            ).fetchone()
            self.assertEqual(role, (False, False, False))
            for statement in ("copy (select 1) to program 'true'", "select pg_read_file('PG_VERSION')", "create role x"):
                with self.assertRaises(psycopg.errors.InsufficientPrivilege):
                    connection.execute(statement)

    def test_passwords_are_their_users_alone_and_in_no_process_list(self) -> None:
        cluster = self.started()
        for name in ("administrator.password", "application.password"):
            mode = (self.home.folder / name).stat().st_mode
            self.assertEqual(stat.S_IMODE(mode), 0o600, name)
        listed = subprocess.run(["ps", "axww", "-o", "args"], capture_output=True, text=True, check=True).stdout
        self.assertNotIn(cluster.secrets.application, listed)
        log = (self.home.folder / "database.log").read_text()
        self.assertNotIn(cluster.secrets.application, log)

    def test_lost_passwords_are_made_anew(self) -> None:
        cluster = self.started()
        url = cluster.ensure_database("pondus")
        migrate(url)
        for name in ("administrator.password", "application.password"):
            (self.home.folder / name).unlink()
        again = self.started()
        self.assertNotEqual(again.ensure_database("pondus"), url)
        self.assertTrue(self.answers(again))
        self.assertTrue(is_closed(self.home.cluster))
        self.refused(again, user="pondus")

    def test_a_cluster_of_the_version_before_is_taken_over_with_all_its_objects(self) -> None:
        self.home.folder.mkdir(parents=True)
        self.make_open_cluster()
        cluster = self.started()
        url = cluster.ensure_database("pondus")
        migrate(url)
        with psycopg.connect(url) as connection:
            self.assertEqual(connection.execute("select name from keepsake").fetchall(), [("Ida",)])
            owners = connection.execute("select distinct tableowner from pg_tables where schemaname = 'public'").fetchall()
            connection.execute("drop table keepsake")
        self.assertEqual(owners, [(APPLICATION,)])
        self.assertTrue(is_closed(self.home.cluster))
        self.refused(cluster, user="pondus")

    def make_open_cluster(self) -> None:
        """As Pondus made them before: trust for everyone, one superuser."""
        if os.geteuid() == 0:
            shutil.chown(self.home.folder, "postgres")
        as_user = {"user": "postgres", "extra_groups": []} if os.geteuid() == 0 else {}
        command = [str(PROGRAMS / "initdb"), "-D", str(self.home.cluster), "-U", "pondus", "-A", "trust", "-E", "UTF8"]
        subprocess.run([*command, "--locale=C", "--no-sync"], check=True, capture_output=True, cwd="/", **as_user)  # type: ignore[call-overload]
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = int(probe.getsockname()[1])
        (self.home.folder / "port").write_text(str(port))
        options = ["-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=", "-c", f"port={port}"]
        process = subprocess.Popen(
            [str(PROGRAMS / "postgres"), "-D", str(self.home.cluster), *options],
            cwd="/", stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, **as_user,
        )  # fmt: skip
        while True:
            try:
                with psycopg.connect(f"postgresql://pondus@127.0.0.1:{port}/postgres", autocommit=True) as connection:
                    connection.execute("create database pondus")
                break
            except psycopg.OperationalError:
                self.assertIsNone(process.poll())
        with psycopg.connect(f"postgresql://pondus@127.0.0.1:{port}/pondus") as connection:
            connection.execute("create table keepsake (id serial primary key, name text)")
            connection.execute("insert into keepsake (name) values ('Ida')")
        process.send_signal(signal.SIGINT)
        process.wait()
