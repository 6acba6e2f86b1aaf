# frozen_string_literal: true

module Yenvo
  module Store
    # Builds the facts that core looks at: events with the linked records as they were right after each event.
    class Snapshots < Part
      # @param events [Array<Core::Event>]
      # @yieldparam event [Core::Event]
      # @yieldreturn [Array<Array<String>>] chains of link fields to follow for this event
      # @return [Array<Core::Facts>] in the same order
      def facts(events, &chains)
        linked = events.map { {} }
        wanted = events.map(&chains)
        first = hop(events, linked) { |i| wanted[i].map { |chain| events[i].after[chain[0]] } }
        images = fetch(first)
        place(first, images, linked)
        second = hop(events, linked) { |i| wanted[i].select { |chain| chain.size > 1 }.map { |chain| linked[i][events[i].after[chain[0]]]&.[](chain[1]) } }
        place(second, fetch(second), linked)
        events.each_with_index.map { |event, i| Core::Facts.new(event, linked[i]) }
      end

      private

      # @return [Array<Array(Integer, Integer, Integer)>] place of the event, record wanted, number of the entry
      def hop(events, linked)
        events.each_index.flat_map do |i|
          yield(i).compact.uniq.reject { |id| linked[i].key?(id) }.map { |id| [i, id, events[i].id] }
        end
      end

      def place(wanted, images, linked)
        wanted.each do |i, id, entry|
          image = images[[id, entry]] || images[id]
          linked[i][id] = image if image
        end
      end

      # The record as it stands serves every event since its latest entry; older events need the journal.
      def fetch(wanted)
        return {} if wanted.empty?

        rows = wanted.map { |_, id, _| id }.uniq.each_slice(2_000).flat_map { |ids| db[:records].select(*Image::COLUMNS).where(id: ids).all }
        current = rows.to_h { |row| [row[:id], row] }
        images = current.transform_values { |row| Image.of(row) }
        wanted.each do |_, id, entry|
          images[[id, entry]] ||= as_of(id, entry) if entry && current[id] && current[id][:entry_id] > entry
        end
        images
      end

      def as_of(id, entry)
        text = db[:journal].where(record_id: id).where { Sequel[:id] <= entry }.exclude(after: nil).reverse(:id).get(:after)
        text && JSON.parse(text)
      end
    end
  end
end
