# frozen_string_literal: true

module Yenvo
  module Store
    # Who changed what, and who signed in or failed to. Rows are added in the transaction of what they tell of, and
    # never change.
    class Audit < Base
      keeps :audit

      PAGE = 50
      WHAT = {
        "setup" => "set-up", "people" => "people", "access" => "access", "tokens" => "tokens", "rules" => "rules",
        "kits" => "kits", "sign_in" => "sign-in", "taken_out" => "data taken out",
        "erased" => "data erased"
      }.freeze

      # @param what [String] one of WHAT
      # @param words [String] what was done, behind who did it, such as "paused the rule “Call back”"
      # @param who [String, nil] key of a person; nil for Yenvo itself, or for somebody unknown
      # @param about [String, nil] of what
      # @param changes [Array<Hash>] label, before, after
      # @param address [String, nil] network address, for what has to do with signing in
      def note(what, words, who:, at:, about: nil, changes: [], address: nil)
        table.insert(what:, words: words[0, 500], who:, at:, about: about&.slice(0, 160),
          changes: JSON.generate(changes), address:)
      end

      # The same, done by whom and when a cause says.
      # @param more [Hash] changes, address
      def tell(what, words, cause, about = nil, **more) =
        note(what, words, who: cause.who, at: cause.at, about:, **more)

      # Tells all that differs between two states of the set-up.
      # @param before [Hash] of +state+
      def note_setup(before, cause:)
        Core::SetupStory.tell(before, state).each do |entry|
          tell(entry.what, entry.words, cause, entry.about, changes: entry.changes)
        end
      end

      # @return [Hash{String => Hash{String => Hash}}] the set-up, thing by thing, as plain values; without secrets
      def state
        {
          "kinds" => kinds, "fields" => fields, "people" => people,
          "teams" => db[:teams].as_hash(:key).transform_values { |row| {"name" => row[:name], **retired(row)} },
          "queues" => queues, "settings" => settings, "addresses" => addresses,
          **%w[texts papers].to_h { |table| [table, kept(table.to_sym)] }, "letterhead" => letterhead,
          "forms" => forms, "doors" => doors, "mail_doors" => mail_doors
        }
      end

      # @param what, who [String, nil] only such; from, till [Time, nil]
      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] rows, the newest first
      def page(what: nil, who: nil, from: nil, till: nil, before: nil, limit: PAGE)
        found = table.reverse(:id).limit(limit)
        found = found.where(what:) if what
        found = found.where(who:) if who
        found = found.where { at >= from } if from
        found = found.where { at < till } if till
        older(found, before).map { |row| row.merge(changes: load(row[:changes])) }
      end

      private

      # Each version of a text or paper is a change of its own.
      def kept(table)
        db[table].as_hash(:key).transform_values do |row|
          {"name" => row[:name], "kind" => row[:kind], "version" => row[:number], **retired(row)}
        end
      end

      def forms
        db[:forms].as_hash(:key).transform_values do |row|
          plain = {"name" => row[:name], "kind" => row[:kind], "version" => row[:number]}
          plain.merge("closed" => !row[:closed_at].nil?, **retired(row))
        end
      end

      # Where exactly programs send to is as good as half a secret.
      def doors
        db[:doors].as_hash(:key).transform_values do |row|
          changed = row.values_at(:address, :secret).map { |text| Digest::SHA256.hexdigest(text)[0, 6] }.join(" ")
          texts(row, :name, :kind, :per_minute).merge("open" => row[:open] == true, "table" => row[:map],
            "address and secret" => changed, **retired(row))
        end
      end

      def mail_doors
        db[:mail_doors].as_hash(:key).transform_values do |row|
          texts(row, :name, :address, :kind).merge("open" => row[:open] == true, "makes" => row[:plain],
            **retired(row))
        end
      end

      def letterhead
        row = db[:letterhead].select(:lines, Sequel.function(:sha1, :logo).as(:logo)).first or return {}
        {"all" => {"lines" => load(row[:lines]), "logo" => row[:logo]}}
      end

      def settings
        kept = db[:settings].select_hash(:name, :value).transform_values { |text| load(text) }
        HouseSettings::ALL.merge(kept).transform_values { |value| {"value" => value} }
      end

      def retired(row) = {"retired" => !row[:retired_at].nil?}

      def kinds = db[:kinds].as_hash(:key).transform_values { |row| kind(row) }
      def fields = db[:fields].all.to_h { |row| [row.values_at(:kind, :key).join(" "), field(row)] }
      def queues = db[:queues].as_hash(:key).transform_values { |row| queue(row) }

      def kind(row)
        texts(row, :label, :plural, :stage_label, *Core::Access::VERBS).merge("stages" => load(row[:stages]),
**removed(row))
      end

      def field(row)
        plain = texts(row, :kind, :label, :type, :unit, :links_to, :formula)
        manner = {"required" => row[:required] == true, "unique" => row[:unique] == true, "kept" => row[:kept] == true}
        plain.merge("choices" => load(row[:choices]), **manner, **texts(row, :help, :group, :default_value),
**removed(row))
      end

      # Where exactly it is may let somebody write there, so it is only said that it is elsewhere.
      def addresses
        db[:addresses].as_hash(:key).transform_values do |row|
          goes_to = "#{URI(row[:url]).host} (#{Digest::SHA256.hexdigest(row[:url])[0, 6]})"
          fields = load(row[:fields]).map { |kind, keys| "#{kind}: #{keys.join(", ")}" }.join("; ")
          texts(row, :name, :way, :per_minute).merge("goes_to" => goes_to, "fields" => fields, **retired(row))
        end
      end

      def queue(row) = texts(row, :name, :team, :order).merge("kinds" => load(row[:kinds]), **retired(row))
      def removed(row) = {"removed" => !row[:removed_at].nil?}

      def people
        teams = db[:memberships].order(:team).select_hash_groups(:person, :team)
        absences = db[:absences].order(:from_on).select_map(%i[person from_on to_on]).group_by(&:first)
        db[:people].as_hash(:key).to_h do |key, row|
          away = absences.fetch(key, []).map { |_, from, to| [from.iso8601, to.iso8601] }
          [key, person(row).merge("teams" => teams.fetch(key, []), "absences" => away)]
        end
      end

      def person(row)
        hours = {"hours" => "#{row[:hours]} %", "week" => load(row[:week])}
        texts(row, :name, :email, :phone, :role, :team, :zone).merge(hours, "active" => row[:active] == true,
          "program" => row[:program] == true)
      end

      def texts(row, *names) = row.slice(*names).transform_keys(&:to_s)
    end
  end
end
