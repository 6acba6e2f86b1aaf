# frozen_string_literal: true

require "date"

module Yenvo
  module Store
    # The schema, the working calendar and the settings, as they are kept; and as they were, so that what rules did in
    # the past can be worked out with the set-up of then.
    class Setup < Base
      SETTINGS = HouseSettings::CALENDAR

      # @return [Array(Core::Schema, Core::Calendar)] as of now
      def both = made(plain)

      # Begins an epoch after a change of the set-up, and keeps the set-up as it is from then on. In the caller's
      # transaction.
      # @return [Integer] the epoch
      def changed(who:, now:)
        epoch = root.begin_epoch("setup", who:, now:)
        db[:setups].insert(epoch:, body: JSON.generate(plain))
        epoch
      end

      # @param epoch [Integer]
      # @return [Array(Core::Schema, Core::Calendar), nil] as they were in an epoch; nil when that was not kept yet
      def of(epoch)
        @past = {} unless @past_for == epoch_of_now
        @past_for = epoch_of_now
        kept = db[:setups].where(Sequel[:epoch] <= epoch).max(:epoch) or return
        @past.shift if @past.size > Root::PAST_SETUPS
        @past[kept] ||= made(JSON.parse(db[:setups].where(epoch: kept).get(:body)))
      end

      # @param settings [Hash{String => Object}] those that are to be others
      # @return [Array(Core::Schema, Core::Calendar)] as they would be
      def with_settings(settings) = made(plain.tap { |now| now["settings"].merge!(settings) })

      # A part of the set-up, to see whether it has changed.
      # @param epoch [Integer, nil] nil for now
      # @param part [Array<String>] "settings"; "kinds", "people", "teams", "queues" or "access" with a key; "fields"
      #   with kind and key
      # @return [Object, nil] plain values; nil where there is none, or it was not kept
      def part(epoch, part)
        plain = plain_at(epoch)
        what, *keys = part
        case what
        when "settings" then plain["settings"]
        when "teams" then plain["teams"][keys[0]]
        when "queues" then [plain["queues"], plain["queue_kinds"].to_h].map { |all| all[keys[0]] }
        when "people" then [row_of(plain["people"], keys), plain["absences"].select { |row| row[0] == keys[0] }]
        when "kinds" then row_of(plain["kinds"], keys)
        when "fields" then plain["fields"].find { |row| row.values_at("kind", "key") == keys }
        when "access" then access_of(plain, keys[0])
        when "addresses", "texts", "papers" then row_of(plain[what].to_a, keys)
        end
      end

      # @return [String]
      def house_name = setting("name", HouseSettings::SHOWN["name"])

      # @return [String] sign of the house's money, which fields have that do not say another
      def currency_sign = Core::Currencies.find(setting("currency", "EUR"))&.symbol

      # @return [Object] what a setting holds
      def setting(name, usual)
        text = db[:settings].where(name:).get(:value)
        text ? load(text) : usual
      end

      def set(name, value) =
        db[:settings].on_duplicate_key_update(:value).insert(name:, value: JSON.generate(value))

      # @param kind [Core::Schema::Kind]
      def add_kind(kind, position:)
        db[:kinds].insert(
          **kind.slice(:key, :label, :plural, :stage_label), position:, stages: pairs(kind.stages)
        )
        kind.own_fields.each_with_index do |field, index|
          db[:fields].insert(
            kind: kind.key, **field.slice(:key, :label, :type, :unit, :links_to, :formula), position: index,
            choices: pairs(field.choices)
          )
        end
      end

      # @param kind [String]
      # @return [Array<Hash>] rows of the fields that were taken away, the latest first
      def removed_fields(kind) = db[:fields].where(kind:).exclude(removed_at: nil).reverse(:removed_at).all

      # @return [Array<Hash>] rows of the lists that were taken away, the latest first
      def removed_lists = db[:kinds].exclude(removed_at: nil).reverse(:removed_at).all

      private

      def epoch_of_now = root.setup[3]

      # As it stands in JSON, of an epoch or of now.
      def plain_at(epoch) = JSON.parse(kept_at(epoch) || JSON.generate(plain))
      def kept_at(epoch) = epoch && db[:setups].where(Sequel[:epoch] <= epoch).reverse(:epoch).get(:body)

      def access_of(plain, kind)
        kept = plain["fields"].select { |row| row["kind"] == kind && row["kept"] }.map { |row| row["key"] }
        [row_of(plain["kinds"], [kind])&.slice(*Core::Access::VERBS.map(&:to_s)), kept]
      end

      def row_of(rows, keys) = rows.find { |row| row["key"] == keys[0] }

      # All of it as plain values, as they stand in JSON.
      def plain
        absences = db[:absences].select_map(%i[person from_on to_on])
        {
          "kinds" => texts(db[:kinds].where(removed_at: nil).order(:position).select(*KIND, :position).all),
          "fields" => texts(db[:fields].where(removed_at: nil).order(:kind, :position).select(*STORED).all),
          "people" => people, "teams" => names(:teams, retired_at: nil), "queues" => names(:queues, retired_at: nil),
          "forms" => names(:forms, retired_at: nil),
          "retired_queues" => db[:queues].exclude(retired_at: nil).select_hash(:key, :name),
          "queue_kinds" => db[:queues].exclude(kinds: nil).as_hash(:key, :kinds).transform_values { |text| load(text) },
          "settings" => SETTINGS.to_h { |name, usual| [name, setting(name, usual)] },
          "absences" => absences.map { |person, from, to| [person, from.iso8601, to.iso8601] },
          "kits" => texts(root.kits.published_rows), "addresses" => addresses,
          **%w[texts papers].to_h { |table| [table, kept(table.to_sym)] }
        }
      end
      KIND = [:key, :label, :plural, :stage_label, :stages, *Core::Access::VERBS].freeze
      FIELD = %i[key label type unit links_to formula choices required unique help group kept].freeze
      STORED = [:kind, *FIELD, :default_value].freeze
      KEPT = %i[key name kind number form].freeze
      PERSON = %i[key name active team hours week told program role email phone].freeze
      private_constant :KIND, :FIELD, :STORED, :KEPT, :PERSON

      def names(table, **where) = db[table].where(where).order(:name).select_hash(:key, :name)

      def addresses =
        texts(db[:addresses].where(retired_at: nil).order(:name).select(:key, :name, :way, :fields).all)

      def kept(table) = texts(db[table].where(retired_at: nil).order(:name).select(*KEPT).all)

      def people
        teams = db[:memberships].order(:team).select_hash_groups(:person, :team)
        texts(db[:people].order(:name).select(*PERSON).all).map { |row| row.merge("teams" => teams[row["key"]] || []) }
      end

      # Choices as they are kept.
      def pairs(choices) = dump(choices.map { |choice| [choice.key, choice.label] })
      def choices(text) = load(text).map { |key, label| Core::Schema::Choice.new(key:, label:) }

      # @return [Hash{Symbol => Object}] some of a row's columns
      def some(row, names) = row.slice(*names.map(&:to_s)).transform_keys(&:to_sym)

      def texts(rows) = rows.map { |row| row.transform_keys(&:to_s) }

      def made(plain)
        calendar = calendar(plain)
        [schema(plain, calendar), calendar]
      end

      def schema(plain, calendar)
        fields = plain["fields"].group_by { |row| row["kind"] }
        named = {"forms" => {}, **plain, **plain["settings"]}
        Core::Schema.new(
          **some(named, %i[queues teams forms retired_queues queue_kinds zone number_form]), calendar:,
          kits: root.kits.entries(plain["kits"]),
          kinds: plain["kinds"].map { |row| kind(row, fields.fetch(row["key"], [])) },
          people: plain["people"].map { |row| person(row) },
          addresses: plain.fetch("addresses", []).map { |row| address(row) }, library: root.library,
          **%i[texts papers].to_h { |name| [name, plain.fetch(name.to_s, []).map { |row| written(row) }] }
        )
      end

      def calendar(plain)
        settings = plain["settings"]
        away = plain["absences"].group_by(&:first).transform_values { |rows| rows.map { |_, from, to| days(from, to) } }
        weeks = plain["people"].to_h { |row| [row["key"], week(row["week"])] }.compact
        Core::Calendar.new(
          zone: settings["zone"], hours: by_day(settings["hours"]), absences: away, weeks:,
          days_off: Core::DaysOff.new(region: settings["holidays"], stretches: stretches(settings["days_off"]))
        )
      end

      def stretches(rows) =
        rows.map do |row|
          from, to = days(row["from"], row["to"])
          Core::DaysOff::Stretch.new(from:, to:, name: row["name"], yearly: row["yearly"] == true)
        end

      # Weekdays are numbered from 0, Sunday, when they are counted with.
      def by_day(hours) = hours.to_h { |day, span| [day.to_i % 7, span] }
      def week(text) = text && by_day(load(text))

      def days(*texts) = texts.map { |text| Date.iso8601(text) }

      def address(row) = Core::Schema::Address.new(**some(row, %i[key name way]), fields: load(row["fields"]))

      def written(row) = Core::Schema::Kept.new(**some(row, KEPT))

      def person(row)
        values = some(row, %i[key name active team teams hours role email phone])
        Core::Schema::Person.new(**values, told: load(row["told"]) || {}, program: row["program"] == true)
      end

      def kind(row, fields)
        Core::Schema::Kind.new(
          **some(row, KIND), stages: choices(row["stages"]), fields: fields.map { |field| field(field) }
        )
      end

      def field(row)
        Core::Schema::Field.new(
          **FIELD.to_h { |name|
            [name, row[name.to_s]]
          }, kept: row["kept"] == true, choices: choices(row["choices"]).freeze, built_in: false,
          default: load(row["default_value"])
        )
      end
    end
  end
end
