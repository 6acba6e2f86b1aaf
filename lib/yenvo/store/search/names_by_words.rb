# frozen_string_literal: true

module Yenvo
  module Store
    # Finds people, rules and kits, of which there are few: by name, and rules and kits by what stands in them too.
    class NamesByWords < Base
      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param sort [String] people, rules or kits
      # @return [Array<Found>] those whose names fit first
      def find(sort, asked, limit)
        all = send(sort, asked)
        all.sort_by { |one| [(one.why == "Name") ? 0 : 1, one.title.downcase] }.first(limit)
      end

      private

      def people(asked) = root.people.all.select { |row| row[:active] }.filter_map { |row| person(row, asked) }

      def person(row, asked)
        why = by(asked, "Name" => row[:name], "E-mail" => row[:email], "Phone" => row[:phone])
        found("people", why, id: row[:key], title: row[:name], kind: row[:role]) if why
      end

      def rules(asked) = all("rules", bodies(db[:rules].exclude(state: "retired"), :rule_versions), asked)
      def kits(asked) = all("kits", bodies(db[:kits].where(retired: false), :kit_versions), asked)
      def all(sort, rows, asked) = rows.filter_map { |row| named(sort, row, asked) }

      def found(sort, why, id:, title:, kind:, stage: nil) =
        Found.new(sort:, id:, title:, kind:, stage:, why:, record: nil)

      def bodies(rows, versions)
        rows = rows.all
        bodies = db[versions].where(id: rows.map { |row| row[:version_id] }).select_hash(:id, :body)
        rows.map { |row| row.merge(body: bodies[row[:version_id]] || row[:draft]) }
      end

      def named(sort, row, asked)
        why = by(asked, "Name" => row[:name]) || within(row, asked)
        found(sort, why, id: row[:id], title: row[:name], kind: row[:kind], stage: row[:state]) if why
      end

      # @return [String, nil] what fits, as whole
      def by(asked, texts)
        name, text = texts.find { |_, one| one && Core::Words.all_in?(asked, one) }
        (name == "Name") ? name : name && "#{name} #{text}"
      end

      # What a rule says may name what is kept.
      def within(row, asked)
        texts = row[:body] ? strings(JSON.parse(row[:body])) : []
        text = texts.find { |one| Core::Words.all_in?(asked, one) } or return
        @sight.access.veil("It says: #{Core::Words.around(asked, text)}")
      end

      def strings(value)
        case value
        when String then [value]
        when Array then value.flat_map { |one| strings(one) }
        when Hash then value.values.flat_map { |one| strings(one) }
        else []
        end
      end
    end
  end
end
