//! The kinds of entry of a book, listed once: a line gives a kind its variant, its name, its payload and its decoding.

use std::collections::BTreeMap;
use utoipa::ToSchema;
use utoipa::openapi::{RefOr, schema::Schema};

/// What entries of a kind carry, for the description of the wire.
pub struct Carries {
    /// Name of its schema.
    pub name: String,
    /// That schema, and those it is made of, by name.
    pub schemas: BTreeMap<String, RefOr<Schema>>,
}

impl Carries {
    /// What a payload of this type is made of.
    pub fn of<T: ToSchema>() -> Carries {
        let mut all = vec![(T::name().into_owned(), T::schema())];
        T::schemas(&mut all);
        Carries { name: T::name().into_owned(), schemas: all.into_iter().collect() }
    }
}

/// Makes the enum of kinds, the enum of what they say, and the decoding of one by the other.
macro_rules! kinds {
    ($(#[$kinds:meta])* enum $Kind:ident; $(#[$says:meta])* enum $Said:ident; $($(#[$doc:meta])* $kind:ident: $said:ty,)*) => {
        $(#[$kinds])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize, utoipa::ToSchema)]
        #[derive(strum::IntoStaticStr, strum::EnumString, strum::VariantArray)]
        #[serde(rename_all = "snake_case")]
        #[strum(serialize_all = "snake_case")]
        pub enum $Kind {
            $($(#[$doc])* $kind,)*
        }

        impl $Kind {
            fn carried(self) -> $crate::book::Carries {
                match self { $($Kind::$kind => $crate::book::Carries::of::<$said>(),)* }
            }
        }

        $(#[$says])*
        #[derive(Debug, Clone, PartialEq)]
        pub enum $Said {
            $($(#[$doc])* $kind($said),)*
        }

        impl $Said {
            /// Decodes a payload, whenever it was written. What was typed (`typed`) is for people.
            ///
            /// **Errors:** a refusal naming the field that is missing, unknown or of the wrong shape.
            pub fn decode(kind: $Kind, version: i32, value: &serde_json::Value) -> Result<$Said, $crate::refusal::Refusal> {
                $crate::book::known_version(kind, version)?;
                let plain = $crate::book::without_typed(value);
                let value = plain.as_ref().unwrap_or(value);
                Ok(match kind { $($Kind::$kind => $Said::$kind($crate::wire::parse(value)?),)* })
            }
        }
    };
}
pub(crate) use kinds;
