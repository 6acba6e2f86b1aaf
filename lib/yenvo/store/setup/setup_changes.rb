# frozen_string_literal: true

require "argon2"
require "openssl"
require "securerandom"

module Yenvo
  module Store
    # Changes of the set-up by administrators: fields, choices, stages, lists, persons, absences. Each begins an epoch,
    # so that every process reads the set-up anew.
    class SetupChanges < Base
      KEY = /\A[a-z][a-z0-9_]{0,59}\z/
      RESERVED = %w[
        id
        kind
        stage
        title
        owner
        creator
        made
        changed
        last_contact
        stage_since
        visit
        version
        since
        today
        event
        before
        record
        made
        rule
        about
      ].freeze
      MOST = {fields: 120, choices: 200, stages: 60, lists: 100}.freeze

      # @param kind [String] key
      # @param key [String, nil] of the field to change; nil for a new one
      # @param given [Hash{String => Object}] label, type, choices (Array of {key, label}), unit, links_to, formula
      # @return [String] key of the field
      # @raise [Refused, NotFound]
      def field(kind, key, given, cause:)
        type = root.schema.kind(kind) || raise(NotFound, "There is no kind of record #{kind.inspect}.")
        known = key && (type.field(key) || raise(NotFound, "#{type.plural} have no field #{key.inspect}."))
        refuse("field", "#{known.label} is built in and cannot be changed.") if known&.built_in
        row = FieldForm.new(type, root.schema, known).read(given)
        row[:key] = key ||
          free_key(row[:label], db[:fields].where(kind:).select_map(:key) + type.fields.keys + RESERVED)
        check_choices(type, known, row) if known
        keep = -> do
          save("field", cause) do
            if known
              db[:fields].where(kind:, key:).update(row.except(:key))
            else
              db[:fields].insert(kind:, position: type.own_fields.size, **row)
            end
          end
        end
        return keep.call && row[:key] unless known

        gone = known.choices.map(&:key) - JSON.parse(row[:choices]).map(&:first)
        taking_away(
          "choices", "#{gone.map { |choice| known.choice_label(choice) }.join(", ")} of #{known.label}",
          gone.map { |choice| "choice #{kind} #{key} #{choice}" }, given["anyway"] == true, cause, &keep
        )
        row[:key]
      end

      # Takes a field away. What records hold in it is not shown any more; its key is never used again.
      # @param anyway [Boolean] also when rules or kits lean on it, whose owners are told then
      # @raise [Refused] naming them
      def remove_field(kind, key, cause:, anyway: false)
        type = root.schema.kind(kind) || raise(NotFound, "There is no kind of record #{kind.inspect}.")
        field = type.field(key)
        raise NotFound, "#{type.plural} have no field #{key.inspect}." if field.nil? || field.built_in

        taking_away(
          "field", "the field #{field.label} of #{type.plural.downcase}", ["field #{kind} #{key}"], anyway, cause
        ) do
          save("field", cause) do
            db[:fields].where(kind:, key:).update(removed_at: cause.at)
            db[:record_index].where(kind:, field: key).delete
          end
        end
      end

      # Brings a field back that was taken away, with what records hold in it.
      # @raise [NotFound]
      def bring_back(kind, key, cause:)
        save("field", cause) do
          found = db[:fields].where(kind:, key:).exclude(removed_at: nil)
          if found.update(removed_at: nil).zero?
            raise NotFound, "No field #{key.inspect} was taken away there; it may be back already."
          end
        end
        root.lists.index_field(kind, root.schema.kind!(kind).field(key))
      end

      # @param stages [Array<Hash>] key (nil for a new one) and label, in order
      # @param anyway [Boolean] also when rules or kits lean on one that goes
      # @raise [Refused] when records stand in one that would be gone, or rules lean on it
      def stages(kind, stages, cause:, anyway: false)
        type = root.schema.kind(kind) || raise(NotFound, "There is no kind of record #{kind.inspect}.")
        plain = read_choices(stages, "stages", type.stage_label, MOST[:stages])
        refuse("stages", "A #{type.noun} needs at least one #{type.stage_label.downcase}.") if plain.empty?
        gone = type.stages.map(&:key) - plain.map(&:first)
        used = db[:records].where(kind:, stage: gone).group_and_count(:stage).first unless gone.empty?
        if used
          refuse(
            "stages", "#{how_many(type, used[:count], "stands", "stand")} in " \
            "#{type.field("stage").choice_label(used[:stage])}. Move #{(used[:count] == 1) ? "it" : "them"} first, " \
            "then take it away."
          )
        end
        words = gone.map { |stage| type.field("stage").choice_label(stage) }.join(", ")
        taking_away(
          "stages", "#{words} of #{type.plural.downcase}", gone.map { |stage| "stage #{kind} #{stage}" }, anyway, cause
        ) { save("stages", cause) { db[:kinds].where(key: kind).update(stages: dump(plain)) } }
      end

      # @param given [Hash] label (of one entry), plural (name of the list), about (kind whose records can be put on it,
      #   or nil), sections
      # @return [String] key of the new kind
      def list(given, cause:)
        label = text(given["label"], "label", "What one entry is called")
        plural = text(given["plural"], "plural", "The name of the list")
        sections = read_choices(given["sections"], "sections", "Sections", MOST[:stages])
        refuse("sections", "A list needs at least one section.") if sections.empty?
        about = given["about"]
        unless about.nil? || %w[contact deal ticket].include?(about)
          refuse("about", "Only contacts, deals and tickets can be put on a list.")
        end
        if root.schema.kinds.values.count(&:list) >= MOST[:lists]
          refuse("plural", "There are #{MOST[:lists]} lists already; that is all there can be.")
        end
        taken = db[:kinds].select_map(:key).map { |known| known.delete_prefix("entry/") }
        key = "entry/#{free_key(plural, [*taken, "tasks"])}"
        fields =
          (
            if about
              [
                Core::Schema::Field.of(
                  Core::Schema::Kind::ABOUT, root.schema.kind!(about).label, "link", links_to: about
                )
              ]
            else
              []
            end
          )
        kind =
          Core::Schema::Kind.new(
            key:, label:, plural:, stage_label: "Section",
            stages: sections.map { |name, words| Core::Schema::Choice.new(key: name, label: words) }, fields:
          )
        save("list", cause) { root.setup_store.add_kind(kind, position: db[:kinds].max(:position).to_i + 1) }
        key
      end

      # @param given [Hash] what is to change: label, plural, open (whether visitors may send entries), programs
      #   (whether programs may)
      # @return [String, nil] the secret with which programs come in, when that door was opened; it is shown once
      def change_list(kind, given, cause:)
        raise NotFound, "There is no list #{kind.inspect}." unless root.schema.kind(kind)&.list

        row = {}
        row[:label] = text(given["label"], "label", "What one entry is called") if given.key?("label")
        row[:plural] = text(given["plural"], "plural", "The name of the list") if given.key?("plural")
        row[:open_door] = given["open"] if given.key?("open")
        secret = SecureRandom.alphanumeric(SECRET) if given["programs"]
        row[:program_door] = secret && OpenSSL::Digest::SHA256.hexdigest(secret) if given.key?("programs")
        save("list", cause) { db[:kinds].where(key: kind).update(row) } if row.any?
        secret
      end

      # Takes an empty list away, with its fields and doors; what was kept of its entries is read as before.
      # @param kind [String]
      # @param anyway [Boolean] also when rules or kits lean on it, whose owners are told then
      # @raise [Refused] when entries stand on it, fields lead to it, or something leans on it
      def remove_list(kind, cause:, anyway: false)
        type = root.schema.kind(kind)
        raise NotFound, "There is no list #{kind.inspect}." unless type&.list

        root.transaction do
          count = db[:records].where(kind:).count
          if count.positive?
            refuse(
              "list",
              "#{how_many(type, count, "stands", "stand")} on #{type.plural}. Take #{(count == 1) ? "it" : "them"} " \
              "off first, then take the list away."
            )
          end
          leading = leading_to(kind)
          refuse("list", "#{leading} can lead to #{type.plural}. Take that away first.") if leading
          taking_away(
            "list", "the list #{type.plural}", ["kind #{kind}", "field #{kind}", "stage #{kind}", "choice #{kind}"],
            anyway, cause
          ) do
            save("list", cause) do
              db[:kinds].where(key: kind).update(removed_at: cause.at, open_door: false, program_door: nil)
            end
          end
        end
      end

      # Brings a list back that was taken away, with its sections and fields; its doors stay shut.
      # @raise [NotFound]
      def bring_list_back(kind, cause:)
        save("list", cause) do
          found = db[:kinds].where(key: kind).exclude(removed_at: nil).update(removed_at: nil)
          raise NotFound, "No list #{kind.inspect} was taken away; it may be back already." if found.zero?
        end
      end

      # Characters of the secret of a door.
      SECRET = 40

      # @param key [String, nil] nil for a new person
      # @param given [Hash] name, email, role, team, active, absences (Array of {from, to})
      # @return [Hash] key, and password for a new person, which is shown once
      def person(key, given, cause:)
        row = PersonForm.new(root).read(given, key)
        raise NotFound, "There is no person #{key.inspect}." if key && root.people.find(key).nil?
        if key == cause.who && (row[:active] == false || row[:role] != "administrator")
          refuse("active", "You cannot take away your own access.")
        end

        was = key && root.people.find(key)
        absences = PersonForm.absences(given["absences"])
        password = key ? nil : SecureRandom.alphanumeric(14)
        name = key || free_key(row[:name], db[:people].select_map(:key))
        save("person", cause) do
          key ? db[:people].where(key:).update(row) : add_person(name, row, password)
          db[:accounts].where(person: name).update(email: row[:email])
          root.people.let_in(name, row.fetch(:active) { root.people.find(name)[:active] })
          db[:absences].where(person: name).delete
          db[:absences].import(%i[person from_on to_on], absences.map { |from, to| [name, from, to] })
        end
        if key && row[:active] == false && was[:active]
          tell_owners(
            "#{row[:name]} has left", "They are passed over now; look whether somebody else should stand there.",
            uses(["person #{name}"]), cause
          )
        end
        {key: name, password:}
      end

      private

      # Does what takes something away from rules and kits. Those that lean on it are named first; when it is done all
      # the same, their owners hear of it.
      # @param whats [Array<String>] as in Core::Uses
      def taking_away(field, words, whats, anyway, cause)
        leaning = whats.empty? ? [] : uses(whats)
        if leaning.any? && !anyway
          named = leaning.first(8).map { |one| "“#{one[:name]}”" }.join(", ")
          said =
            "#{named}#{" and others" if leaning.size > 8} #{(leaning.size == 1) ? "leans" : "lean"} on #{words}. " \
            "Change that first, or take it away all the same."
          raise Refused.new("Nothing was saved: #{said}", fields: {field => said}, leaning: true)
        end

        yield
        tell_owners(
          "#{words.sub(/\A\w/, &:upcase)} was taken away", "What leans on it may not run any more; look at it.",
          leaning, cause
        )
      end

      # @return [String, nil] names of the fields of other kinds that lead to a list
      def leading_to(kind)
        found =
          root.schema.kinds.values.reject { |type| type.key == kind }
            .flat_map do |type|
              type.own_fields.select { |field| field.links_to == kind }
                .map { |field| "#{field.label} of #{type.plural.downcase}" }
            end
        found.join(" and ") if found.any?
      end

      def uses(whats) = whats.flat_map { |what| RuleUses.new(root).of(what) }.uniq

      # Each owner hears of all that is theirs at once.
      def tell_owners(what, advice, leaning, cause)
        {"rule" => :rules, "kit" => :kits}.each do |noun, table|
          some = leaning.select { |one| one[:what] == noun }
          owners = db[table].where(id: some.map { |one| one[:id] }).select_hash(:id, :owner)
          some.group_by { |one| owners[one[:id]] }
            .each do |owner, all|
              next unless owner

              rule = {rule_id: all[0][:id]} if noun == "rule"
              root.notices.add(
                [owner],
                "#{what}. Your #{noun}#{"s" if all.size > 1} #{all.map { |one| "“#{one[:name]}”" }.join(", ")} " \
                "#{(all.size > 1) ? "lean" : "leans"} on that. #{advice}", at: cause.at, what: "leaning", **rule.to_h
              )
            end
        end
      end

      def add_person(key, row, password)
        db[:people].insert(key:, **row)
        db[:accounts].insert(
          email: row[:email], person: key, password_hash: Argon2::Password.new(t_cost: 2, m_cost: 15).create(password)
        )
      end

      def save(what, cause)
        root.transaction do
          yield
          root.setup_store.changed(who: cause.who, now: cause.at)
          # What a date is worked out by may have changed, and what did not fit may fit.
          root.rules.retime(cause:) if what == "field"
        end
        root.worked_out.all_stale(cause.at)
      rescue Sequel::UniqueConstraintViolation
        refuse("email", "Somebody else has that already; choose another.") if what == "person"
        raise
      end

      def refuse(field, sentence) = raise(Refused.at(field => sentence))

      def text(value, name, label, most = 60)
        words = Core::Reading.trim(value.to_s.gsub(/[\p{Cf}[:cntrl:]]/, ""))
        refuse(name, "#{label} takes a few words.") if words.empty?
        refuse(name, "#{label} takes at most #{most} characters.") if words.size > most
        words
      end

      def read_choices(given, name, label, most)
        refuse(name, "#{label} must be a list.") unless given.is_a?(Array)
        refuse(name, "#{label}: at most #{most}.") if given.size > most
        keys = given.filter_map { |one| one["key"] }
        plain =
          given.map do |one|
            words = text(one["label"], name, label)
            key = one["key"] || free_key(words, keys).tap { |made| keys << made }
            [key, words]
          end
        unless plain.map(&:first).uniq.size == plain.size &&
            plain.map { |_, words| words.downcase }.uniq.size == plain.size
          refuse(name, "#{label}: each stands once.")
        end
        plain
      end

      def check_choices(type, known, row)
        gone = known.choices.map(&:key) - JSON.parse(row[:choices]).map(&:first)
        return if gone.empty?

        used =
          db[:record_index]
            .where(
              kind: type.key, field: known.key, empty: false, num: 0, word: gone.map { |key| key[0, RecordIndex::WORD] }
            )
            .group_and_count(:word).first
        if used
          refuse(
            "choices", "#{how_many(type, used[:count], "has", "have")} #{known.choice_label(used[:word])}. Change " \
            "#{(used[:count] == 1) ? "it" : "them"} first, then take the choice away."
          )
        end
      end

      def how_many(type, count, one, many) =
        (count == 1) ? "1 #{type.noun} #{one}" : "#{Core::Show.count(count)} #{type.plural.downcase} #{many}"

      def free_key(words, taken)
        plain =
          words.unicode_normalize(:nfd).gsub(/\p{Mn}/, "").downcase.gsub(/[^a-z0-9]+/, "_").gsub(/\A[^a-z]+|_+\z/, "")[
            0, 50
          ]
        plain = "field" if plain.empty?
        ([plain] + (2..taken.size + 3).map { |n| "#{plain}_#{n}" }).find { |key| !taken.include?(key) }
      end
    end
  end
end
