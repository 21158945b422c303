//! Settings: defaults, file, environment, in that order. The environment is passed in, so that the order
//! is a test and not a hope.

use figment::Figment;
use figment::providers::{Format, Serialized, Toml};
use figment::value::Value;
use level_keel_core::conditions::probe::ProbeOf;
use level_keel_core::people::PIN_DIGITS;
use serde::{Deserialize, Serialize};

/// Everything that can be set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Settings {
    /// Address to listen on. Loopback unless told otherwise.
    pub host: String,
    /// Names, beside those of the machine itself, that this server may be asked by.
    pub host_names: Vec<String>,
    /// Proxies in front of the server: the address the outermost of them saw is the one tries are counted by.
    pub proxies: usize,
    /// Digits a PIN has at the least; four or more.
    pub pin_digits: usize,
    /// Whoever is not signed in sees the names to sign in by.
    pub list_people: bool,
    /// Megabytes of files one person may keep in a day.
    pub files_a_day_mb: u64,
    /// Port; the next free one is taken when it is in use and `port_search` is on.
    pub port: u16,
    /// Try the next ports when this one is taken.
    pub port_search: bool,
    /// PostgreSQL address.
    pub database_url: String,
    /// The role servers work under; `migrate` gives it what it needs. Empty: there is none.
    pub serving_role: String,
    /// Built front end.
    pub web_dir: String,
    /// IANA name of the shop's zone.
    pub zone: String,
    /// Load the demo into an empty database and keep it alive.
    pub demo: bool,
    /// Its eight weeks of finished work are loaded too.
    pub demo_weeks: bool,
    /// Seconds of shop time in one real second, for practice.
    pub clock_rate: f64,
    /// A proxy in front speaks TLS: the cookie is for https alone, and the address it forwards is believed.
    pub behind_tls: bool,
    /// Minutes without a hand on a page after which it locks; 0: never.
    pub idle_lock_min: f64,
    /// Address of the demo's simulated transmitters; empty: none.
    pub demo_devices: String,
    /// Transmitters read over Modbus TCP.
    pub transmitters: Vec<Transmitter>,
    /// Address of the demo's simulated scale; empty: none.
    pub demo_scale: String,
    /// Scales that send their weight as lines of text over TCP.
    pub scales: Vec<ScaleAt>,
    /// Address of the demo's simulated film gauge; empty: none.
    pub demo_gauge: String,
    /// Film gauges that send their readings as lines of text over TCP.
    pub gauges: Vec<GaugeAt>,
    /// Folder of checkpoints and of the key that signs them; empty: none are made.
    pub checkpoint_dir: String,
    /// The program that sets cards and recall lists as PDF; empty: the one beside the server's own.
    pub print_program: String,
    /// Paper of it: `a4` or `us-letter`.
    pub print_paper: Paper,
    /// Seconds it has for a document.
    pub print_most_s: f64,
    /// Megabytes of memory it has.
    pub print_most_mb: u64,
}

/// Paper that is printed on.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Paper {
    /// 210 by 297 mm.
    #[default]
    A4,
    /// 8.5 by 11 in.
    UsLetter,
}

/// A film gauge that sends lines of text over TCP, and how they are read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct GaugeAt {
    /// Its name in the shop.
    pub name: String,
    /// Host and port.
    pub address: String,
    /// One division of it.
    #[serde(default = "tenth_um")]
    pub division_um: f64,
    /// A regular expression with the names `film` and `unit`.
    #[serde(default = "own_gauge")]
    pub pattern: String,
    /// Unit of lines that name none.
    #[serde(default)]
    pub unit: Option<String>,
}

fn tenth_um() -> f64 {
    0.1
}

fn own_gauge() -> String {
    level_keel_core::acceptance::indicator::OWN_PATTERN.into()
}

/// A scale that sends lines of text over TCP, and how they are read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ScaleAt {
    /// Its name in the shop; an instrument of this name is kept for it.
    pub name: String,
    /// Host and port.
    pub address: String,
    /// Resolution.
    #[serde(default = "one_g")]
    pub resolution_g: f64,
    /// What it bears; a load over it is called an overload. Missing: the indicator says so itself.
    #[serde(default)]
    pub capacity_g: Option<f64>,
    /// A regular expression with the names `load`, `unit`, `steady` or `moving`, `over`.
    #[serde(default = "own_pattern")]
    pub pattern: String,
    /// Unit of lines that name none.
    #[serde(default)]
    pub unit: Option<String>,
}

fn one_g() -> f64 {
    1.0
}

fn own_pattern() -> String {
    level_keel_core::weighing::OWN_PATTERN.into()
}

/// A Modbus TCP transmitter and its register map.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Transmitter {
    /// Its name, for the log.
    pub name: String,
    /// Host and port.
    pub address: String,
    /// Unit (slave) number.
    #[serde(default = "one")]
    pub unit: u8,
    /// Seconds between readings.
    #[serde(default = "five")]
    pub poll_s: f64,
    /// What it carries.
    pub probes: Vec<ProbeAt>,
}

/// One probe in a register map: `value = register × scale + offset`, in °C, % RH or kPa.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ProbeAt {
    /// Its name in the shop.
    pub name: String,
    /// What it reads.
    pub of: ProbeOf,
    /// The rig it sits on, by name: for pressures of pot and gun.
    #[serde(default)]
    pub rig: Option<String>,
    /// Which table.
    #[serde(default)]
    pub table: RegisterTable,
    /// First register, counted from 0.
    pub register: u16,
    /// How the number is held.
    #[serde(default)]
    pub holds: RegisterType,
    /// Multiplied by this.
    #[serde(default = "tenth")]
    pub scale: f64,
    /// Then added.
    #[serde(default)]
    pub offset: f64,
}

/// Tables of Modbus registers.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum RegisterTable {
    /// Function 4.
    #[default]
    Input,
    /// Function 3.
    Holding,
}

/// How a number lies in registers; of two, the high word comes first.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum RegisterType {
    /// Signed, one register.
    #[default]
    I16,
    /// Unsigned, one register.
    U16,
    /// Signed, two registers.
    I32,
    /// Unsigned, two registers.
    U32,
    /// Floating point, two registers.
    F32,
}

impl RegisterType {
    /// Registers it takes.
    pub fn words(self) -> u16 {
        match self {
            RegisterType::I16 | RegisterType::U16 => 1,
            RegisterType::I32 | RegisterType::U32 | RegisterType::F32 => 2,
        }
    }
}

fn one() -> u8 {
    1
}

fn five() -> f64 {
    5.0
}

fn tenth() -> f64 {
    0.1
}

/// The rig of the demo that has transmitters.
pub const DEMO_RIG: &str = "Buoy pot, two litres";

impl Settings {
    /// The scales to listen to: those set, and the demo's simulated one.
    pub fn all_scales(&self) -> Vec<ScaleAt> {
        let demo = (!self.demo_scale.is_empty()).then(|| ScaleAt {
            name: "Mixing scale".into(),
            address: self.demo_scale.clone(),
            resolution_g: 1.0,
            capacity_g: None,
            pattern: own_pattern(),
            unit: None,
        });
        self.scales.iter().cloned().chain(demo).collect()
    }

    /// The film gauges to listen to: those set, and the demo's simulated one.
    pub fn all_gauges(&self) -> Vec<GaugeAt> {
        let demo = (!self.demo_gauge.is_empty()).then(|| GaugeAt {
            name: "Film gauge".into(),
            address: self.demo_gauge.clone(),
            division_um: tenth_um(),
            pattern: own_gauge(),
            unit: None,
        });
        self.gauges.iter().cloned().chain(demo).collect()
    }

    /// The transmitters to read: those set, and the demo's simulated ones.
    pub fn all_transmitters(&self) -> Vec<Transmitter> {
        let mut all = self.transmitters.clone();
        if !self.demo_devices.is_empty() {
            let probe = |name: &str, of, register| ProbeAt {
                name: name.into(),
                of,
                rig: None,
                table: RegisterTable::Input,
                register,
                holds: RegisterType::I16,
                scale: 0.1,
                offset: 0.0,
            };
            all.push(Transmitter {
                name: "demo".into(),
                address: self.demo_devices.clone(),
                unit: 1,
                poll_s: 2.0,
                probes: vec![
                    probe("Booth air", ProbeOf::Air, 0),
                    probe("Booth humidity", ProbeOf::Humidity, 1),
                    probe("Part surface", ProbeOf::Surface, 2),
                    probe("Mixing bench", ProbeOf::Material, 3),
                    probe("Paint store", ProbeOf::Store, 4),
                    probe("Peroxide cabinet", ProbeOf::Store, 5),
                ],
            });
            let gauge = |name: &str, of, register| ProbeAt { rig: Some(DEMO_RIG.into()), ..probe(name, of, register) };
            all.push(Transmitter {
                name: "demo rig".into(),
                address: self.demo_devices.clone(),
                unit: 1,
                poll_s: 0.1,
                probes: vec![gauge("Pot gauge", ProbeOf::Pot, 6), gauge("Gun gauge", ProbeOf::Gun, 7)],
            });
        }
        all
    }
}

impl Default for Settings {
    fn default() -> Self {
        Settings {
            host: "127.0.0.1".into(),
            host_names: Vec::new(),
            proxies: 0,
            pin_digits: PIN_DIGITS,
            list_people: true,
            files_a_day_mb: 500,
            port: 7070,
            port_search: true,
            database_url: "postgres://localhost/level_keel".into(),
            serving_role: String::new(),
            web_dir: "web/dist".into(),
            zone: "UTC".into(),
            demo: false,
            demo_weeks: false,
            clock_rate: 1.0,
            behind_tls: false,
            idle_lock_min: 20.0,
            demo_devices: String::new(),
            transmitters: Vec::new(),
            demo_scale: String::new(),
            scales: Vec::new(),
            demo_gauge: String::new(),
            gauges: Vec::new(),
            checkpoint_dir: String::new(),
            print_program: String::new(),
            print_paper: Paper::A4,
            print_most_s: 10.0,
            print_most_mb: 1024,
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

    #[test]
    fn a_scale_is_read_with_its_grammar() {
        let file = "[[scales]]\nname = \"bench\"\naddress = \"10.0.0.8:4001\"\nresolution_g = 0.1\n\
                    pattern = '^(?<steady>=)?(?<load>[-+]?[0-9.]+)$'\nunit = \"g\"";
        let scales = Settings::load(Some(file), env(&[])).unwrap().all_scales();
        assert_eq!((scales.len(), scales[0].resolution_g, scales[0].unit.as_deref()), (1, 0.1, Some("g")));
        let demo = Settings::load(None, env(&[("LEVEL_KEEL_DEMO_SCALE", "127.0.0.1:5021")])).unwrap().all_scales();
        assert_eq!((demo[0].name.as_str(), demo[0].resolution_g), ("Mixing scale", 1.0));
        assert!(Settings::load(Some("[[scales]]\nname = \"bench\""), env(&[])).is_err(), "no address");
    }

    #[test]
    fn a_register_map_is_read_and_a_wrong_one_refused() {
        let file = "[[transmitters]]\nname = \"booth\"\naddress = \"10.0.0.9:502\"\n[[transmitters.probes]]\nname = \"air\"\nof = \"air\"\n\
                    register = 4\ntable = \"holding\"\nholds = \"f32\"\nscale = 1.0";
        let read = Settings::load(Some(file), env(&[])).unwrap().transmitters;
        assert_eq!((read[0].unit, read[0].poll_s, read[0].probes[0].register), (1, 5.0, 4));
        assert_eq!((read[0].probes[0].holds.words(), read[0].probes[0].scale), (2, 1.0));
        let wrong = file.replace("f32", "f80");
        assert!(Settings::load(Some(&wrong), env(&[])).is_err());
    }
}
