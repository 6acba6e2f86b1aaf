# frozen_string_literal: true

module Yenvo
  module Store
    # What becomes of rows of a table: which are made, which change a record that is there, which say what stands there
    # already, and which are refused and why. Looks up what a whole bit needs at one go, and writes nothing.
    class TableRows < Base
      # row: TableFile::Row; what: "make", "change", "same" or "refused"; values: plain, by field; problems: sentences
      # by field; record: image of the one that is there, or nil; key: what it is known by, or nil.
      Verdict = Core::Value.define(:row, :what, :values, :problems, :record, :key)

      # @param plan [Core::TablePlan]
      # @param sight [Sight] of who brings the table in
      def initialize(root, plan, sight, person)
        super(root)
        @plan = plan
        @map = plan.map
        @sight = sight
        @person = person
        @looked_up = LookedUp.new(root, sight)
      end

      # @param rows [Array<TableFile::Row>]
      # @return [Array<Verdict>] in the same order
      def verdicts(rows)
        read = rows.map { |row| read(row) }
        resolve_links(read)
        unique(judged(read, there(read)))
      end

      private

      def judged(read, found) = read.map { |row, values, problems| verdict(row, values, problems, found) }

      # @return [Array(TableFile::Row, Hash, Hash)]
      def read(row)
        return [row, {}, {"" => row.wrong}] if row.wrong

        [row, *@plan.row(row.cells, schema)]
      end

      def schema = @sight.access.schema

      # Links become numbers of records, or are said not to be there.
      def resolve_links(read)
        @map.rows.select { |row| row.field.type == "link" }.each do |line|
          field = line.field
          links = read.filter_map { |_, values, _| values[field.key] }.grep(Core::DoorLink)
          kind = schema.kind(field.links_to) or next
          by = line.by && kind.field(line.by)
          ids = @looked_up.ids(kind, by, links.map(&:value))
          read.each { |_, values, problems| link(field, by, ids, values, problems) }
        end
      end

      def link(field, by, ids, values, problems)
        given = values[field.key] or return
        id = ids[@looked_up.known(by, given.value)]
        return values[field.key] = id if id

        values.delete(field.key)
        kind = schema.kind(field.links_to)&.noun || "record"
        problems[field.key] = "#{field.label}: there is no #{kind} #{"with #{by.label} " if by}#{given.value}."
      end

      # @return [Hash] images of those that are there, by what they are known by
      def there(read)
        key = @map.key or return {}
        ids = @looked_up.ids(@map.kind, key, read.filter_map { |_, values, _| values[key.key] })
        images = root.records.images(ids.values)
        ids.transform_values { |id| images[id] }.compact
      end

      def verdict(row, values, problems, found)
        key = @map.key && values[@map.key.key]
        known = key && LookedUp.known(key)
        image = known && found[known]
        unless problems.key?("")
          problems = (image ? of_change(values, row,
            image) : of_new(values, key)).merge(problems)
        end
        return Verdict.new(row:, what: "refused", values:, problems:, record: image, key: known) if problems.any?

        what, values = image ? changed(values, row, image) : ["make", beginning.merge(values)]
        Verdict.new(row:, what:, values:, problems:, record: image, key: known)
      end

      def changed(values, row, image)
        differing = wanted(values, row).reject { |key, value| image[key] == value }
        [what(differing), differing]
      end

      def what(differing) = differing.any? ? "change" : "same"

      def wanted(values, row) = {**@plan.emptied(row.cells).to_h { |key| [key, nil] }, **values}

      def of_change(values, row, image)
        unless @sight.access.may?(:changed_by, @map.kind, image["owner"])
          return {"" => "It is there already, and not yours to change."}
        end

        lost = wanted(values, row).select { |key, value| value.nil? && needed?(key) && image[key] }
        lost.to_h { |key, _| [key, "#{@map.kind.field(key).label} has to be filled in."] }
      end

      def needed?(key) = %w[title stage].include?(key) || @map.kind.field(key).required

      def of_new(values, key)
        if @map.how == "change"
          return {} if key.nil?

          return {@map.key.key => "There is no #{@map.kind.noun} with #{@map.key.label} #{key}."}
        end

        needed = ["title", *@map.kind.own_fields.select(&:required).map(&:key)]
        empty = needed.select { |one| beginning.merge(values)[one].nil? }
        empty.to_h { |one| [one, "#{@map.kind.field(one).label} has to be filled in."] }
      end

      # What a new record begins with.
      def beginning = @beginning ||= root.records.beginning(@map.kind, @person)

      # What stands once is not brought in a second time, whether it stands there or came a moment ago.
      def unique(all)
        @map.kind.own_fields.select(&:unique).inject(all) { |some, field| unique_by(some, field) }
      end

      def unique_by(all, field)
        given = all.map { |one| one.problems.empty? && one.values[field.key] }
        held = held_by(field, given.select(&:itself))
        all.zip(given).map do |one, value|
          next one unless value

          known = LookedUp.place(field, value)
          by = held[known]
          next (held[known] = one) && one if by.nil? || by == one.record&.fetch("id")

          one.with(what: "refused", problems: {field.key => twice(field, value)})
        end
      end

      def twice(field, value)
        shown = Core::Show.value(field, value, schema, {})
        "#{field.label} #{shown} stands on another #{@map.kind.noun} already, and each stands once."
      end

      def held_by(field, values)
        words = values.map { |value| RecordIndex.rows(field, value)[0].values_at(2, 3) }
        rows = db[:unique_values].where(kind: @map.kind.key, field: field.key, word: words.map(&:last).uniq)
        rows.select_map(%i[num word record_id]).to_h { |num, word, id| [@looked_up.short(num, word), id] }
      end
    end
  end
end
