//! Settings: defaults, file, environment, in that order. The environment is passed in, so that the order
//! is a test and not a hope.

use figment::Figment;
use figment::providers::{Format, Serialized, Toml};
use figment::value::Value;
use serde::{Deserialize, Serialize};

/// Everything that can be set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Settings {
    /// Address to listen on. Loopback unless told otherwise.
    pub host: String,
    /// Port; the next free one is taken when it is in use and `port_search` is on.
    pub port: u16,
    /// Try the next ports when this one is taken.
    pub port_search: bool,
    /// PostgreSQL address.
    pub database_url: String,
    /// Built front end.
    pub web_dir: String,
    /// IANA name of the shop's zone.
    pub zone: String,
    /// Load the demo into an empty database and keep it alive.
    pub demo: bool,
    /// Seconds of shop time in one real second, for practice.
    pub clock_rate: f64,
    /// A proxy in front speaks TLS: the cookie is for https alone, and the address it forwards is believed.
    pub behind_tls: bool,
    /// Minutes without a hand on a page after which it locks; 0: never.
    pub idle_lock_min: f64,
}

impl Default for Settings {
    fn default() -> Self {
        Settings {
            host: "127.0.0.1".into(),
            port: 7070,
            port_search: true,
            database_url: "postgres://localhost/level_keel".into(),
            web_dir: "web/dist".into(),
            zone: "UTC".into(),
            demo: false,
            clock_rate: 1.0,
            behind_tls: false,
            idle_lock_min: 20.0,
        }
    }
}

/// The prefix of environment variables.
pub const PREFIX: &str = "LEVEL_KEEL_";

impl Settings {
    /// Reads settings from an optional TOML text and the environment given.
    pub fn load(file: Option<&str>, env: impl IntoIterator<Item = (String, String)>) -> Result<Settings, Box<figment::Error>> {
        let mut figment = Figment::from(Serialized::defaults(Settings::default()));
        if let Some(text) = file {
            figment = figment.merge(Toml::string(text));
        }
        for (key, value) in env {
            // Other programs' variables and our own home folder are not settings of the server.
            if let Some(name) = key.strip_prefix(PREFIX).filter(|n| *n != "HOME" && *n != "CONFIG") {
                figment = figment.merge(Serialized::default(&name.to_lowercase(), typed(&value)));
            }
        }
        figment.extract().map_err(Box::new)
    }
}

/// A variable is text: what reads as a truth value or a number is one.
fn typed(text: &str) -> Value {
    match (text.parse::<bool>(), text.parse::<i64>(), text.parse::<f64>()) {
        (Ok(truth), _, _) => Value::from(truth),
        (_, Ok(whole), _) => Value::from(whole),
        (_, _, Ok(number)) => Value::from(number),
        _ => Value::from(text),
    }
}

#[cfg(test)]
mod tests {
    use super::Settings;

    fn env(pairs: &[(&str, &str)]) -> Vec<(String, String)> {
        pairs.iter().map(|(k, v)| ((*k).into(), (*v).into())).collect()
    }

    #[test]
    fn defaults_then_file_then_environment() {
        let none = Settings::load(None, env(&[])).unwrap();
        assert_eq!(none, Settings::default());
        assert_eq!(none.host, "127.0.0.1");
        let file = Settings::load(Some("port = 8000\nzone = \"Europe/Lisbon\""), env(&[])).unwrap();
        assert_eq!((file.port, file.zone.as_str()), (8000, "Europe/Lisbon"));
        let both =
            Settings::load(Some("port = 8000"), env(&[("LEVEL_KEEL_PORT", "9000"), ("PATH", "/bin"), ("LEVEL_KEEL_HOME", "/x")]))
                .unwrap();
        assert_eq!(both.port, 9000);
        assert!(Settings::load(None, env(&[("LEVEL_KEEL_PROT", "9000")])).is_err(), "a misspelt setting is an error");
        assert!(Settings::load(Some("port = \"soon\""), env(&[])).is_err());
    }
}
