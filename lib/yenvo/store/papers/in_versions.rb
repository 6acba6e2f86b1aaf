# frozen_string_literal: true

module Yenvo
  module Store
    # What texts and papers have alike: each is kept in versions that never change. Whoever includes it says its
    # +table+, the table of its +versions+, its +noun+, and what a version +content+ holds.
    module InVersions
      include FormWords
      include Saving

      MOST = 300
      MOST_VERSIONS = 1_000

      # @return [Array<Hash>] rows, those taken away too
      def all = table.order(:name).all

      # @return [Hash] the whole row of one that is in use
      # @raise [NotFound]
      def find!(key) = table.where(key: key.to_s, retired_at: nil).first || raise(NotFound, none(key))

      # @param number [Integer, nil] nil for the newest
      # @return [Hash] the row of a version
      # @raise [NotFound]
      def version!(key, number = nil)
        found = versions.where(key: key.to_s)
        row = number ? found.where(number:).first : found.reverse(:number).first
        row || raise(NotFound, number ? "#{none(key).delete_suffix(".")} with a version #{number}." : none(key))
      end

      # @return [Array<Hash>] number, by and at of each, the newest first
      def versions_of(key) = versions.where(key:).reverse(:number).select(:number, :by, :at).all

      # Writes another version; a new one where there is none yet.
      # @param key [String, nil]
      # @param given [Hash] name, kind, and what a version holds
      # @return [String] its key
      # @raise [Refused, NotFound, Conflict]
      def write(key, given, cause:)
        made = nil
        save(cause, key && ["#{noun}s", key]) { made = add_version(key && find!(key), given, cause) }
        made
      end

      # @raise [Refused] while something leans on it (unless +anyway+)
      def retire(key, cause:, anyway: false)
        row = find!(key)
        taking_away("kept", "the #{noun} #{row[:name]}", ["#{noun} #{key}"], anyway, cause) do
          save(cause) { table.where(key:).update(retired_at: cause.at) }
        end
      end

      # @raise [NotFound, Refused]
      def bring_back(key, cause:)
        row = table.where(key: key.to_s).exclude(retired_at: nil).first || raise(NotFound, none(key))
        save(cause) do
          name(row[:name], row)
          table.where(key:).update(retired_at: nil)
        end
      end

      private

      def none(key) = "There is no #{noun} #{key.to_s[0, 60].inspect}."

      # @param row [Hash, nil] as it is
      # @return [String] its key
      def add_version(row, given, cause)
        head = {name: name(given["name"], row), kind: kind(given["kind"]), number: next_number(row)}
        same_kind!(row, head[:kind]) if row
        content = content(given, head[:kind], row)
        key = row ? row[:key] : new_key(head[:name])
        head.merge!(content.slice(:form, :page))
        row ? table.where(key:).update(head) : table.insert(key:, **head)
        # Its number may be that of another, then.
        db.after_rollback(savepoint: true) { root.library.forget }
        versions.insert(key:, number: head[:number], by: cause.who, at: cause.at, **content)
        key
      end

      # Rules that stay at an older version take it for the records that it was for.
      def same_kind!(row, kind)
        return if row[:kind] == kind || Leaning.new(root).of(["#{noun} #{row[:key]}"]).empty?

        refuse("kind", "Rules or kits take it for the records that it is for now. Write another #{noun} for these.")
      end

      def next_number(row)
        number = row ? row[:number] + 1 : 1
        (number > MOST_VERSIONS) ? refuse("text", "At most #{MOST_VERSIONS} versions.") : number
      end

      def new_key(name)
        refuse("name", "At most #{MOST} #{noun}s.") if table.count >= MOST
        free_key(name.to_s, table.select_map(:key))
      end

      def name(given, row)
        name = text(given, "name", "The name", 120)
        same = table.where(retired_at: nil).exclude(key: row && row[:key]).select_map(:name)
        refuse("name", "There is a #{noun} #{name} already.") if same.any? { |one| one.casecmp?(name) }
        name
      end

      def kind(given)
        return given if schema.subject(given.to_s)

        refuse("kind", "It takes a kind of record whose blanks it has; there is no #{Core::Show.quoted(given.to_s)}.")
      end

      # @param place [String] of the form
      # @param problems [Array<String>] what is wrong with it
      def refuse_all(place, problems)
        return if problems.empty?

        refuse(place, problems.first(10).map { |one| "#{one[0].upcase}#{one[1..].delete_suffix(".")}." }.join(" "))
      end
    end
  end
end
