# frozen_string_literal: true

module Yenvo
  module Engine
    # Goes through a whole table and says what would become of each row, without writing a record.
    class LookingAtTable
      include TableWork

      BIT = 2_000

      # @param job [Hash] row
      # @return [Integer] rows looked at
      def bit(job, now)
        import = import(job)
        sight = sight(import)
        plan = plan(import, sight)
        bit = @root.imports.file(import, plan.form).bit(**import.slice(:place, :line), limit: BIT)
        verdicts = Store::TableRows.new(@root, plan, sight, import[:by]).verdicts(bit.rows)
        verdicts = met_before(import, plan.map, verdicts)
        refuse(import, verdicts.select { |one| one.what == "refused" })
        before = JSON.parse(import[:looked] || "{}")
        looked = {**counted(before, verdicts), "rows" => before["rows"].to_i + verdicts.size}
        go_on(job, import, bit, "looked", now, {looked: JSON.generate(looked), moved: bit.place - import[:place]})
        verdicts.size
      end

      private

      # What an earlier row makes is there when a later one comes to it.
      def met_before(import, map, verdicts)
        by_key(import, map, unique(import, map, verdicts))
      end

      def by_key(import, map, verdicts)
        return verdicts unless map.key

        fresh = verdicts.map { |one| (one.what == "make") ? digest("key", one.key) : nil }
        again = met(import, fresh)
        verdicts.zip(again).map { |one, met| met ? one.with(what: "change") : one }
      end

      def unique(import, map, verdicts)
        map.kind.own_fields.select(&:unique).inject(verdicts) do |all, field|
          digests = all.map { |one| value(one, field)&.then { |known| digest(field.key, known) } }
          all.zip(met(import, digests)).map { |one, met| met ? refused(one, map.kind, field) : one }
        end
      end

      def value(verdict, field)
        given = verdict.values[field.key] if verdict.what == "make"
        given && Store::LookedUp.place(field, given)
      end

      def refused(one, kind, field)
        one.with(what: "refused", problems: {field.key => twice(kind, field)})
      end

      def twice(kind, field) =
        "#{field.label} stands on an earlier row already, and each stands once on one #{kind.noun}."

      def digest(name, known) = Digest::MD5.hexdigest("#{name}\0#{known}")

      # @param digests [Array<String, nil>]
      # @return [Array<Boolean>] whether each was met before, in an earlier bit or in this one
      def met(import, digests)
        given = digests.compact.uniq
        return digests.map { false } if given.empty?

        seen = db[:import_seen].where(import_id: import[:id], digest: given).select_map(:digest).to_set
        db[:import_seen].multi_insert((given - seen.to_a).map { |digest| {import_id: import[:id], digest:} })
        digests.map { |digest| !digest.nil? && !seen.add?(digest) }
      end
    end
  end
end
