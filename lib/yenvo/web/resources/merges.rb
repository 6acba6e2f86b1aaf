# frozen_string_literal: true

module Yenvo
  module Web
    # Records that are the same, merged into one and parted again.
    class Merges < Base
      # What was merged into a record and can be parted; and what became of one that is gone.
      get "/?" do
        record = number("record")
        answer 200, {merges: sight.record?(record) ? merges(record) : [], became: became(record)}
      end

      # What merging comes to: of each field, who has what; and what comes along.
      get "/plan" do
        rows = together(params["records"].split(",").map(&:to_i).uniq)
        kind = sight.access.schema.kind!(rows[0][:kind])
        images = rows.map { |row| Store::Image.of(row) }
        plan = Core::Merging.new(kind, images)
        along = Store::Merging.new(root).along(images.drop(1).map { |image| image["id"] })
        answer 200, {records: present.records(images, kind.key), rows: plan.rows.map { |row| shown(row) }, along:}
      end

      post "/?" do
        kept, *others = body_of_call["records"]
        rows = together([kept, *others])
        seen = sight.access.schema.kind!(rows[0][:kind])
        hidden = body_of_call["choices"].keys.reject { |key| seen.field(key) }
        raise Store::Refused.at("choices" => "There is no field #{hidden[0].inspect}.") if hidden.any?

        rows.each_with_index { |row, i| i.zero? ? may.change!(row) : may.take_away!(row) }
        image = Store::Merging.new(root).merge(kept, others, body_of_call["choices"], cause:)
        answer 201, present.record(image, rows[0][:kind])
      end

      # Parts them again.
      delete "/:id" do
        row = root.merges.find!(id)
        may.change!(sight.record!(row[:kept_id]))
        image = Store::Parting.new(root).part(id, cause:)
        answer 200, present.record(image, row[:kind])
      end

      private

      # @return [Array<Hash>] rows, in the order that was asked for
      def together(ids)
        raise Store::Refused.at("records" => Store::Merging::HOW_MANY) unless ids.size.between?(2, Store::Merging::MOST)

        rows = ids.map { |id| sight.record!(id) }
        return rows if rows.map { |row| row[:kind] }.uniq.size == 1

        raise Store::Refused.at("records" => "Only records of one kind can be merged.")
      end

      def shown(row)
        {field: row.field.key, label: row.field.label, **row.slice(:choice, :differs, :together)}
      end

      def merges(record)
        root.merges.open_of(record, now:).map do |row|
          {**row.slice(:id, :titles, :by), at: moment(row[:at]), until: moment(Store::Merges.ends(row))}
        end
      end

      def moment(at) = Core::Reading.moment(at)

      def became(record)
        id = root.merges.became([record])[record]
        id && sight.titles([id])[id]&.slice(:id, :title)
      end
    end
  end
end
