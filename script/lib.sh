# Shared by start and test: what must be there, what is installed, a private PostgreSQL. Sourced, not run.

say() { printf '\033[1m== %s\033[0m\n' "$*"; }
die() { printf 'level-keel: %s\n' "$*" >&2; exit 1; }

# The rest may be run by root or by an ordinary user with sudo.
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

# Other people's PostgreSQL settings must not leak in.
unset PGHOST PGPORT PGUSER PGPASSWORD PGDATABASE PGDATA PGSERVICE PGOPTIONS DATABASE_URL

least() { # least HAVE WANT: whether version HAVE is at least WANT
  [ "$(printf '%s\n%s\n' "$2" "$1" | sort -V | head -n 1)" = "$2" ]
}

need_toolchains() {
  command -v cargo >/dev/null || die "Rust 1.95 or newer is needed (cargo is not on the PATH)."
  command -v node >/dev/null || die "Node 20.19 or newer is needed (node is not on the PATH)."
  command -v npm >/dev/null || die "npm is needed beside Node."
  rust=$(rustc --version | cut -d' ' -f2); node=$(node --version | tr -d v)
  say "Rust $rust, Node $node"
  least "$rust" 1.95.0 || die "Rust $rust is too old: 1.95 or newer is needed."
  least "$node" 20.19.0 || die "Node $node is too old: 20.19 or newer is needed."
}

# need_packages TEST PACKAGE …: installs those packages whose test fails.
debian() {
  missing=""
  while [ $# -gt 1 ]; do
    sh -c "$1" >/dev/null 2>&1 || missing="$missing $2"
    shift 2
  done
  [ -n "$missing" ] || return 0
  say "Installing from Debian's packages:$missing"
  # Debian's package would start a cluster of its own on 5432; ours is private.
  case "$missing" in *postgresql*)
    as_root mkdir -p /etc/postgresql-common
    grep -qs '^create_main_cluster' /etc/postgresql-common/createcluster.conf ||
      echo 'create_main_cluster = false' | as_root tee -a /etc/postgresql-common/createcluster.conf >/dev/null ;;
  esac
  as_root apt-get update -qq
  # shellcheck disable=SC2086 # a list of package names
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
}

# What building and serving need, and what the caller names beside it. A C compiler without libc's own files links nothing.
needs() {
  debian '[ -n "$(ls -d /usr/lib/postgresql/*/bin)" ]' postgresql 'command -v cc' gcc '[ -e /usr/include/stdio.h ]' libc6-dev \
    'command -v runuser' util-linux "$@"
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1; }

# Everything that runs as the cluster's owner. PostgreSQL refuses root, so root lends it to postgres.
as_pg() {
  if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

# pick_home WANTED: a folder the cluster's owner can reach, in HOME_DIR.
pick_home() {
  HOME_DIR=$1
  mkdir -p "$HOME_DIR"
  HOME_DIR=$(cd "$HOME_DIR" && pwd)
  [ "$(id -u)" = 0 ] || return 0
  if ! (cd / && runuser -u postgres -- test -x "$HOME_DIR") || [ ${#HOME_DIR} -gt 80 ]; then
    HOME_DIR=/var/lib/level-keel$(printf '%s' "$HOME_DIR" | tr '/' '-')
    say "The checkout cannot be entered by an unprivileged user: data is kept in $HOME_DIR"
    mkdir -p "$HOME_DIR"
  fi
}

free_port() { node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{console.log(s.address().port);s.close()})'; }

# Room for a table of fifty thousand lots in one go; PostgreSQL's own defaults are for the smallest machines.
ROOM="-c shared_buffers=256MB -c wal_buffers=16MB -c max_wal_size=2GB"

# The cluster takes no connection without its password: a random one, in a file only the cluster's owner reads.
# It is passed on in PGPASSWORD, which psql and the server both read, never in an argument that `ps` would show.
pick_password() { # pick_password FILE
  if [ ! -s "$1" ]; then
    (umask 077 && head -c 24 /dev/urandom | od -An -tx1 | tr -d ' \n' > "$1")
    if [ "$(id -u)" = 0 ]; then chown postgres "$1"; fi
  fi
  PGPASSWORD=$(cat "$1"); export PGPASSWORD
}

# A cluster made before it had a password lets every local account in: it is given one, and its door is shut.
shut_trust() { # shut_trust FOLDER_OF_DATA PORT: the cluster runs
  as_pg grep -qE '^[^#]*[[:space:]]trust([[:space:]]|$)' "$1/pg_hba.conf" || return 0
  say "This cluster took connections without a password: it is given one"
  printf "alter role level_keel password '%s';\n" "$PGPASSWORD" |
    as_pg "$(pg_bin)/psql" -qX -v ON_ERROR_STOP=1 "postgres://level_keel@127.0.0.1:$2/postgres"
  as_pg sed -i -E '/^[^#]/s/[[:space:]]trust([[:space:]]|$)/ scram-sha-256\1/' "$1/pg_hba.conf"
  as_pg "$(pg_bin)/pg_ctl" -D "$1" reload >/dev/null
}

# start_cluster FOLDER OPTIONS: makes (once) and starts a cluster in FOLDER/pg; sets PG_URL, PG_DATA and PGPASSWORD.
start_cluster() {
  bin=$(pg_bin); [ -n "$bin" ] || die "PostgreSQL is not installed."
  PG_DATA=$1/pg; PG_LOG=$1/postgres.log
  mkdir -p "$PG_DATA"; touch "$PG_LOG"
  if [ "$(id -u)" = 0 ]; then chown postgres "$PG_DATA" "$PG_LOG"; fi
  chmod 700 "$PG_DATA"
  pick_password "$1/postgres.password"
  if [ ! -f "$PG_DATA/PG_VERSION" ]; then
    say "Making a private PostgreSQL cluster in $PG_DATA"
    as_pg "$bin/initdb" -D "$PG_DATA" -U level_keel -A scram-sha-256 --pwfile="$1/postgres.password" -E UTF8 --locale=C.UTF-8 >/dev/null
  fi
  # A cluster left by a killed start is stopped first: its port is not ours to guess.
  as_pg "$bin/pg_ctl" -D "$PG_DATA" status >/dev/null 2>&1 && as_pg "$bin/pg_ctl" -w -m fast -D "$PG_DATA" stop >/dev/null </dev/null
  port=$(free_port)
  as_pg "$bin/pg_ctl" -w -D "$PG_DATA" -l "$PG_LOG" \
    -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' $2" start >/dev/null </dev/null ||
    { tail -n 20 "$PG_LOG" >&2; die "PostgreSQL did not start; its log is $PG_LOG"; }
  shut_trust "$PG_DATA" "$port"
  PG_URL=postgres://level_keel@127.0.0.1:$port
}

# The server works under a role that owns nothing and can only add to the log; the owner of the tables migrates and is not known to
# it. Made once, with a password of its own in a file like the cluster's. Sets SERVING_ROLE and SERVING_PASSWORD.
make_serving_role() { # make_serving_role FOLDER
  SERVING_ROLE=level_keel_server
  owner=$PGPASSWORD
  pick_password "$1/server.password"
  SERVING_PASSWORD=$PGPASSWORD
  PGPASSWORD=$owner
  printf "do \$\$ begin
      if not exists (select 1 from pg_roles where rolname = '%s') then create role %s login nosuperuser nocreatedb nocreaterole; end if;
    end \$\$;
    alter role %s password '%s';\n" "$SERVING_ROLE" "$SERVING_ROLE" "$SERVING_ROLE" "$SERVING_PASSWORD" |
    as_pg "$(pg_bin)/psql" -qX -v ON_ERROR_STOP=1 "$PG_URL/postgres"
}

# holds_demo FOLDER: whether a cluster made before folders were marked holds the demo. It does not run now.
holds_demo() {
  start_cluster "$1" ""
  found=$(as_pg "$(pg_bin)/psql" -qAtX "$PG_URL/level_keel" -c "select 1 from house where key = 'demo'" 2>/dev/null || true)
  stop_cluster
  [ -n "$found" ] || return 1
  touch "$1/demo"
}

# choose_home DEMO: the folder of the demo, or of a shop of one's own, in HOME_DIR.
choose_home() {
  pick_home "${LEVEL_KEEL_HOME:-$PWD/.run}"
  if [ "$1" = true ]; then
    touch "$HOME_DIR/demo"
  elif [ -d "$HOME_DIR/pg" ] && [ ! -e "$HOME_DIR/demo" ] && [ ! -d "$HOME_DIR/shop" ] && ! holds_demo "$HOME_DIR"; then
    say "Your shop's data lie in $HOME_DIR, as before"
  else
    pick_home "$HOME_DIR/shop"
  fi
}

# The cluster of a folder as it runs, or started for as long as the script runs. Sets what start_cluster sets, and JOINED.
join_cluster() { # join_cluster FOLDER
  if as_pg "$(pg_bin)/pg_ctl" -D "$1/pg" status >/dev/null 2>&1; then
    PG_DATA=$1/pg
    pick_password "$1/postgres.password"
    PG_URL=postgres://level_keel@127.0.0.1:$(as_pg sed -n 4p "$PG_DATA/postmaster.pid")
    JOINED=running
  else
    start_cluster "$1" ""
    JOINED=started
    trap stop_cluster EXIT
  fi
}

# The newest migration this version knows.
newest_migration() { find crates/server/migrations -name '*.sql' | sed 's#.*/0*\([0-9]*\)_.*#\1#' | sort -n | tail -n 1; }

stop_cluster() { as_pg "$(pg_bin)/pg_ctl" -w -m fast -D "$PG_DATA" stop >/dev/null 2>&1 </dev/null || true; }

build_page() {
  say "Front end: packages"
  (cd web && npm ci --no-audit --no-fund --loglevel=error)
  say "Front end: build"
  (cd web && npm run --silent build >/dev/null)
}
