# frozen_string_literal: true

module Yenvo
  module Store
    # A record as one plain Hash, which is what core looks at and what the journal keeps.
    module Image
      STAMP = "%Y-%m-%dT%H:%i:%s.%fZ"
      STAMPS = {
        made_at: "made", changed_at: "changed", last_contact_at: "last_contact", stage_since: "stage_since"
      }.freeze
      PLAIN = {
        id: "id", title: "title", stage: "stage", owner: "owner", creator: "creator", visit: "visit", version: "version"
      }.freeze

      # Stamps come as text in the plain form, since reading ten thousand Times is what would take longest.
      COLUMNS = [*PLAIN.keys, :kind, :entry_id, :fields,
        *STAMPS.keys.map { |name| Sequel.function(:date_format, name, STAMP).as(name) }].freeze

      module_function

      # @param row [Hash] selected with COLUMNS
      # @return [Hash{String => Object}]
      def of(row)
        image = JSON.parse(row[:fields])
        PLAIN.each { |column, key| image[key] = row[column] unless row[column].nil? }
        STAMPS.each { |column, key| image[key] = row[column] unless row[column].nil? }
        image
      end

      # @return [Hash] columns of the table records
      def columns(image)
        row = {
          title: image["title"], stage: image["stage"], owner: image["owner"], creator: image["creator"],
          visit: image["visit"], version: image["version"]
        }
        STAMPS.each { |column, key| row[column] = image[key] && Time.iso8601(image[key]) }
        row[:fields] = JSON.generate(image.except(*PLAIN.values, *STAMPS.values))
        row
      end
    end
  end
end
