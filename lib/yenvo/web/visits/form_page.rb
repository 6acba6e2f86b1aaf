# frozen_string_literal: true

require "erubi"

module Yenvo
  module Web
    # A form as a page, whole in itself: it works without a script too. What stands in it is escaped.
    class FormPage
      SOURCE = File.read(File.join(__dir__, "form_page.erb"))
      # Where the script and the styles of the page are written in the front end.
      ENTRY = "src/form/form.ts"

      # One thing that is asked, as it stands on the page.
      Row =
        Core::Value.define(:item, :id, :given, :wrong) do
          def ask = item.ask
          def label = item.label
          def help = Core::Reading.presence([item.help, hint].compact.join(" "))
          def hint = self.class::HINTS[item.type]
          def required = item.required
          def group? = %w[choices yes_no].include?(item.type)
          def element = group? ? "fieldset" : "div"
          def title = group? ? "legend id=\"#{id}\" tabindex=\"-1\"" : "label for=\"#{id}\""

          # @return [String] HTML
          def control = FormControl.new(self).html
        end
      Row::HINTS = {
        "files" => "At most #{Store::Attachments::MAX_BYTES / 1_000_000} MB each: " \
          "#{Store::Attachments::TYPES.keys.join(", ")}."
      }.freeze

      attr_reader :form, :said, :house, :action, :stamp, :wrong

      # @param form [Core::Form]
      # @param house [String] its name
      # @param assets [Hash] styles and scripts, by the paths under which they are given out
      # @param given [Hash] what the visitor has typed already, by +ask+
      # @param wrong [Hash{String => String}] what is wrong with it; "" for all of it
      # @param said [String, nil] what is said instead of the questions
      def initialize(form, house:, assets:, action: "", stamp: "", given: {}, wrong: {}, said: nil)
        @form = form
        @house = house
        @assets = assets
        @action = action
        @stamp = stamp
        @given = given
        @wrong = wrong
        @said = said
      end

      # @return [String]
      def html = render

      def heading = form&.words&.fetch("heading") || house
      def title = "#{heading} · #{house}"
      def styles = @assets.fetch(:styles)
      def scripts = @assets.fetch(:scripts)
      def paragraphs(text) = text.to_s.split(/\n{2,}|\n/).reject(&:empty?)

      # @return [Array<Row>]
      def asked
        form.items.each_with_index.map do |item, at|
          Row.new(item:, id: "f#{at}", given: @given[item.ask], wrong: @wrong[item.ask])
        end
      end

      private

      def consent_state = wrong["consent"] && ' aria-invalid="true" aria-describedby="consent-wrong"'
      def h(text) = Erubi.h(text)

      class_eval("def render; #{Erubi::Engine.new(SOURCE, escape: true, freeze: true).src}; end", __FILE__, __LINE__)
    end
  end
end
