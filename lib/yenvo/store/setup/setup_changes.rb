# frozen_string_literal: true

require "openssl"
require "securerandom"

module Yenvo
  module Store
    # Changes of the set-up by administrators: fields, choices, stages, lists, persons, absences. Each begins an epoch,
    # so that every process reads the set-up anew.
    class SetupChanges < Base
      include FormWords
      include Saving

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

      # @param seen [Integer, nil] epoch of the set-up on which the change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      # @param kind [String] key
      # @param key [String, nil] of the field to change; nil for a new one
      # @param given [Hash{String => Object}] label, type, choices (Array of {key, label}), unit, links_to, formula
      # @return [String] key of the field
      # @raise [Refused, NotFound]
      def field(kind, key, given, cause:)
        type = kind!(kind)
        known = key && field!(type, key)
        refuse("field", "#{known.label} is built in and cannot be changed.") if known&.built_in
        row = FieldForm.new(type, schema, known).read(given)
        check_lacking(type, known, row, given["anyway"] == true)
        return add_field(type, row, cause) unless known

        check_choices(type, known, row)
        gone = known.choices.map(&:key) - load(row[:choices]).map(&:first)
        taking_away(
          "choices", "#{gone.map { |choice| known.choice_label(choice) }.join(", ")} of #{known.label}",
          gone.map { |choice| "choice #{kind} #{key} #{choice}" }, given["anyway"] == true, cause
        ) { change_field(type, known, row, cause) }
        key
      end

      # Puts the fields of a kind in another order.
      # @param keys [Array<String>] of all its own fields
      # @raise [Refused, NotFound]
      def order_fields(kind, keys, cause:)
        own = kind!(kind).own_fields.map(&:key)
        refuse("keys", "The order names each field of its own once.") unless keys.sort == own.sort
        save(cause) { keys.each_with_index { |key, at| db[:fields].where(kind:, key:).update(position: at) } }
      end

      # Takes a field away. What records hold in it is not shown any more; its key is never used again.
      # @param anyway [Boolean] also when rules or kits lean on it, whose owners are told then
      # @raise [Refused] naming them
      def remove_field(kind, key, cause:, anyway: false)
        type = kind!(kind)
        field = field!(type, key)
        raise NotFound, "#{type.plural} have no field #{key.inspect} of their own." if field.built_in

        words = "the field #{field.label} of #{type.plural.downcase}"
        taking_away("field", words, ["field #{kind} #{key}"], anyway, cause) do
          save(cause, retime: true) do
            db[:fields].where(kind:, key:).update(removed_at: cause.at)
            db[:record_index].where(kind:, field: key).delete
            root.unique_values.end(kind, key)
          end
        end
      end

      # Brings a field back that was taken away, with what records hold in it.
      # @raise [NotFound]
      def bring_back(kind, key, cause:)
        save(cause, retime: true) do
          found = db[:fields].where(kind:, key:).exclude(removed_at: nil)
          if found.update(removed_at: nil).zero?
            raise NotFound, "No field #{key.inspect} was taken away there; it may be back already."
          end
        end
        root.lists.index_field(kind, schema.kind!(kind).field(key))
        stand_once_again(kind, key)
      end

      # @param stages [Array<Hash>] key (nil for a new one) and label, in order
      # @param anyway [Boolean] also when rules or kits lean on one that goes
      # @raise [Refused] when records stand in one that would be gone, or rules lean on it
      def stages(kind, stages, cause:, anyway: false)
        type = kind!(kind)
        plain = read_choices(stages, "stages", type.stage_label, MOST[:stages])
        refuse("stages", "A #{type.noun} needs at least one #{type.stage_label.downcase}.") if plain.empty?
        gone = type.stages.map(&:key) - plain.map(&:first)
        shown = gone.to_h { |stage| [stage, type.field("stage").choice_label(stage)] }
        used = db[:records].where(kind:, stage: gone).group_and_count(:stage).first unless gone.empty?
        if used
          refuse("stages", in_the_way(type, used[:count], ["stands in", "stand in"], shown[used[:stage]], "Move"))
        end
        words = "#{shown.values.join(", ")} of #{type.plural.downcase}"
        taking_away("stages", words, gone.map { |stage| "stage #{kind} #{stage}" }, anyway, cause) do
          save(cause, ["kinds", kind]) { db[:kinds].where(key: kind).update(stages: dump(plain)) }
        end
      end

      # @param given [Hash] as in ListForm
      # @return [String] key of the new kind
      # @raise [Refused]
      def list(given, cause:)
        kind = ListForm.new(root).read(given)
        save(cause) { root.setup_store.add_kind(kind, position: db[:kinds].max(:position).to_i + 1) }
        kind.key
      end

      # Renames a kind of record or a list.
      # @param given [Hash] what is to change: label, plural, stage_label
      def change_kind(kind, given, cause:)
        row = names(kind!(kind), given)
        save(cause, ["kinds", kind]) { db[:kinds].where(key: kind).update(row) } if row.any?
      end

      # Takes an empty list away, with its fields; what was kept of its entries is read as before.
      # @param kind [String]
      # @param anyway [Boolean] also when rules or kits lean on it, whose owners are told then
      # @raise [Refused] when entries stand on it, fields lead to it, or something leans on it
      def remove_list(kind, cause:, anyway: false)
        type = list!(kind)
        root.transaction do
          count = db[:records].where(kind:).count
          stand = ["stands on", "stand on"]
          refuse("list", in_the_way(type, count, stand, type.plural, "Take", "off", all: "the list")) if count.positive?
          leading = leading_to(kind)
          refuse("list", "#{leading} can lead to #{type.plural}. Take that away first.") if leading
          whats = %w[kind field stage choice].map { |what| "#{what} #{kind}" }
          taking_away("list", "the list #{type.plural}", whats, anyway, cause) do
            save(cause) { db[:kinds].where(key: kind).update(removed_at: cause.at) }
          end
        end
      end

      # Brings a list back that was taken away, with its sections and fields.
      # @raise [NotFound]
      def bring_list_back(kind, cause:)
        save(cause) do
          found = db[:kinds].where(key: kind).exclude(removed_at: nil).update(removed_at: nil)
          raise NotFound, "No list #{kind.inspect} was taken away; it may be back already." if found.zero?
        end
      end

      # @param key [String, nil] nil for a new person
      # @param given [Hash] name, email, role, team, active, absences (Array of {from, to})
      # @return [String] key; a new person has no password until they choose one
      def person(key, given, cause:)
        was = key && (root.people.find(key) || raise(NotFound, "There is no person #{key.inspect}."))
        row = PersonForm.new(root).read(given, key)
        if key == cause.who && (row[:active] == false || row[:role] != "administrator")
          refuse("active", "You cannot take away your own access.")
        end

        absences = PersonForm.absences(given["absences"])
        name = key || free_key(row[:name], db[:people].select_map(:key))
        save(cause, key && ["people", key]) do
          teams = row.delete(:teams)
          key ? db[:people].where(key:).update(row) : add_person(name, row)
          db[:accounts].where(person: name).update(email: row[:email])
          root.people.let_in(name, row.fetch(:active) { root.people.find(name)[:active] })
          write_anew(:memberships, name, %i[team], teams.zip)
          write_anew(:absences, name, %i[from_on to_on], absences)
          one_administrator!
        end
        tell_of_leaver(name, row, cause) if key && row[:active] == false && was[:active]
        name
      rescue Sequel::UniqueConstraintViolation
        refuse("email", "Somebody else has that already; choose another.")
      end

      # Adds a program, which is a person without a sign-in and without a team.
      # @return [String] key
      def program(name, role, cause:)
        key = free_key(name, db[:people].select_map(:key))
        save(cause) do
          db[:people].insert(key:, name:, email: "#{key}@program.invalid", role:, program: true)
        end
        key
      end

      # Ends the account of somebody who leaves.
      # @raise [Refused] when nobody would be left to change the set-up
      def leave(key, cause:)
        refuse("active", "You cannot take away your own access.") if key == cause.who
        let_in(key, false, cause)
        tell_of_leaver(key, root.people.find(key), cause)
      end

      # Lets somebody in again.
      def come_back(key, cause:) = let_in(key, true, cause)

      # @param roles [Array<String>] whose members must have a second step at sign-in
      # @raise [Refused]
      def second_step(roles, cause:)
        strange = roles - People::ROLES
        refuse("roles", "A role is one of #{People::ROLES.join(", ")}.") if strange.any?
        save(cause) { root.setup_store.set("second_step", roles.uniq) }
      end

      # @param key [String] of a person
      # @raise [NotFound]
      def end_second_step(key, cause:)
        person = root.people.find(key) || raise(NotFound, "There is no person #{key.inspect}.")
        ids = db[:accounts].where(person: key).select(:id)
        root.transaction do
          %i[account_otp_keys account_recovery_codes].each { |table| db[table].where(id: ids).delete }
          words = "took away the second step of #{person[:name]}"
          root.audit.note("sign_in", words, who: cause.who, at: cause.at, about: "people #{key}")
        end
        by = schema.name_of(cause.who)
        said = "Your second step at sign-in was taken away by #{by}. Set up another on your page."
        root.notices.add([person[:key]], said, what: "sign_in", at: cause.at)
      end

      private

      def kind!(key) = schema.kind(key) || raise(NotFound, "There is no kind of record #{key.inspect}.")
      def field!(type, key) = type.field(key) || raise(NotFound, "#{type.plural} have no field #{key.inspect}.")

      NAMES = {
        "label" => ["What one is called", 60], "plural" => ["What many are called", 60],
        "stage_label" => ["What a stage is called", 30]
      }.freeze
      private_constant :NAMES

      # @return [Hash{Symbol => String}] the names that are to change
      def names(type, given)
        found = NAMES.slice(*given.keys).to_h { |key, (words, most)| [key.to_sym, text(given[key], key, words, most)] }
        other = schema.kinds.values.find { |one| one.key != type.key && one.plural.casecmp?(found[:plural].to_s) }
        refuse("plural", "There are #{other.plural} already; two of the same name could not be told apart.") if other
        found
      end

      def list!(key)
        type = schema.kind(key)
        type&.list ? type : raise(NotFound, "There is no list #{key.inspect}.")
      end

      def change_field(type, known, row, cause)
        save(cause, ["fields", type.key, known.key], retime: true) do
          db[:fields].where(kind: type.key, key: known.key).update(row)
          hold_unique(type, known, row[:unique]) if row.key?(:unique) && row[:unique] != known.unique
        end
      end

      # Where its values do not stand once any more, nobody asks for that any more.
      def stand_once_again(kind, key)
        field = db[:fields].where(kind:, key:, unique: true)
        return if field.empty?

        field.update(unique: false) if root.unique_values.begin(kind, key).positive?
      end

      def hold_unique(type, field, wanted)
        return root.unique_values.end(type.key, field.key) unless wanted

        twice = root.unique_values.begin(type.key, field.key)
        return if twice.zero?

        values = (twice == 1) ? "1 value stands" : "#{Core::Show.count(twice)} values stand"
        refuse("unique", "#{values} on several #{type.plural.downcase} already. Change these first.")
      end

      # A field that becomes required while records lack it: they stay as they are until somebody changes them.
      def check_lacking(type, known, row, anyway)
        return unless row[:required] && !known&.required && !anyway

        filled = db[:record_index].where(kind: type.key, field: known&.key.to_s, empty: false)
        lacking = root.records.count_of(type.key) - filled.distinct.select(:record_id).from_self.count
        return if lacking.zero?

        have = (lacking == 1) ? "1 #{type.noun} has" : "#{Core::Show.count(lacking)} #{type.plural.downcase} have"
        stay = "They stay as they are until somebody changes them."
        said = "#{have} no #{row[:label]}. #{stay} Save once more to ask for it."
        raise Refused.new("Nothing was saved: #{said}", fields: {"required" => said}, leaning: true)
      end

      def add_field(type, row, cause)
        taken = db[:fields].where(kind: type.key).select_map(:key) + type.fields.keys + RESERVED
        key = free_key(row[:label], taken)
        row[:unit] ||= root.setup_store.currency_sign if row[:type] == "money"
        save(cause, retime: true) { db[:fields].insert(kind: type.key, position: next_place(type), key:, **row) }
        key
      end

      def next_place(type) = db[:fields].where(kind: type.key).max(:position).to_i + 1

      def tell_of_leaver(key, row, cause)
        leaning = Leaning.new(root)
        leaning.tell(
          "#{row[:name]} has left", "They are passed over now; look whether somebody else should stand there.",
          leaning.of(["person #{key}"]), cause
        )
      end

      # @return [String] such as "2 deals stand in Quoted. Move them first, then take it away."
      def in_the_way(type, count, (one, many), place, move, off = nil, all: "it")
        records = (count == 1) ? "1 #{type.noun} #{one}" : "#{Core::Show.count(count)} #{type.plural.downcase} #{many}"
        them = [move, (count == 1) ? "it" : "them", off].compact.join(" ")
        "#{records} #{place}. #{them} first, then take #{all} away."
      end

      # @return [String, nil] names of the fields of other kinds that lead to a list
      def leading_to(kind)
        found =
          schema.kinds.values.reject { |type| type.key == kind }
            .flat_map do |type|
              type.own_fields.select { |field| field.links_to == kind }
                .map { |field| "#{field.label} of #{type.plural.downcase}" }
            end
        found.join(" and ") if found.any?
      end

      # Two who take each other's role away at once come one after the other, so that the second finds this out.
      def one_administrator!
        return unless db[:people].where(role: "administrator", active: true, program: false).empty?

        refuse("active", "The last administrator stays: somebody has to be able to change the set-up.")
      end

      def let_in(key, active, cause)
        save(cause, ["people", key]) do
          db[:people].where(key:).update(active:)
          root.people.let_in(key, active)
          one_administrator!
        end
      end

      def add_person(key, row)
        db[:people].insert(key:, **row)
        db[:accounts].insert(email: row[:email], person: key)
      end

      def check_choices(type, known, row)
        gone = known.choices.map(&:key) - load(row[:choices]).map(&:first)
        return if gone.empty?

        held = {word: gone.map { |key| key[0, RecordIndex::WORD] }, empty: false, num: 0}
        used = db[:record_index].where(kind: type.key, field: known.key, **held).group_and_count(:word).first or return
        shown = known.choice_label(used[:word])
        refuse("choices", in_the_way(type, used[:count], %w[has have], shown, "Change", all: "the choice"))
      end
    end
  end
end
